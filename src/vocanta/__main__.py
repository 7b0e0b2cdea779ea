"""`python -m vocanta`: the command line."""

from .cli import main

raise SystemExit(main())
