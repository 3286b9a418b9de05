"""View models: what each view shows, worked out without Qt."""
