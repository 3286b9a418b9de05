"""The project, everything derived from it, takes, rescaling, new projects and demos."""
