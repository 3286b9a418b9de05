"""The files that a desktop wants: menu entry, file type, thumbnailer, manual page, metadata."""
