"""`python -m anzel` is the command line."""

from anzel.cli.main import main

main()
