"""Reports as XML: text without what it cannot hold, and a whole document around test suites."""

from __future__ import annotations

from xml.etree import ElementTree as ET


def cleaned(text: str) -> str:
    """Text without what XML cannot hold."""
    return "".join(
        c for c in text if c in "\t\n" or 0x20 <= ord(c) < 0xD800 or 0xE000 <= ord(c) < 0xFFFE or ord(c) > 0xFFFF
    )


def document(suite: ET.Element) -> str:
    """A JUnit document of one suite, indented, with a final newline."""
    whole = ET.Element("testsuites")
    whole.append(suite)
    ET.indent(whole, " ")
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ET.tostring(whole, encoding="unicode") + "\n"
