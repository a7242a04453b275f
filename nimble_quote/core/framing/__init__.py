"""Who is shown, how close, and how the window of each shape follows them."""
