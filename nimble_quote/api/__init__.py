"""The web API: thin routes that load, call the core, and save."""
