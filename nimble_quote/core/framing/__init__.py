"""Where the source picture stands in each output shape."""
