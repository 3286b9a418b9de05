"""The command line, one module a group of commands."""

import os

# Searching for pydantic plugins costs a tenth of the start-up, and none shall run in Anzel. It is
# said here, where the program starts, because pydantic reads it when it is imported.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
