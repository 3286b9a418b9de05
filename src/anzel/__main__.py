"""`python -m anzel` is the command line."""

import sys
from pathlib import Path

if __name__ == "__main__":
    if not sys.flags.safe_path and not Path(__file__).is_relative_to(sys.path[0]):
        del sys.path[0]  # the current folder, whose files may come from somebody else
    from anzel.cli.main import main

    main()
