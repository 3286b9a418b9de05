"""The application without Qt: session, edits, view models, background work."""
