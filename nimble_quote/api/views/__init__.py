"""What the API answers with: models made for the screens, from rows and the core, a module for each subject."""
