"""``python -m rhodonite``: the command line."""

from .server.commands import main

if __name__ == "__main__":
    main()
