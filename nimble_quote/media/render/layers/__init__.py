"""What the renderer draws, a module a layer; the preview has one of the same name for each."""
