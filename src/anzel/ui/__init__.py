"""The window: views, steps, panels and commands in Qt."""
