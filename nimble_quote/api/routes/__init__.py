"""The routes, a module for each place of the interface."""
