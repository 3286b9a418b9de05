"""Pictures of the standing structure without any window."""
