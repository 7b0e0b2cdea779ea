"""The core: what a project is and what it does. No Django, no web, no I/O but the file format."""
