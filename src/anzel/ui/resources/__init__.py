"""Icons, pictures, style sheet and help that ship with the window."""
