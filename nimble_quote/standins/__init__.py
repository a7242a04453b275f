"""Small local programs in place of what lives elsewhere, so that everything can be tried and tested without a network."""
