"""All that touches pictures and sound: probing, proxies, peaks, faces, and the renderer."""
