"""``python -m rhodonite``: the command line."""

import sys

if __name__ == "__main__":
    if sys.argv[1:2] == ["compute"]:  # which needs neither server nor database, and is there at once without them
        from .server import compute

        compute.main(sys.argv[2:])
    else:
        from .server import commands

        commands.main()
