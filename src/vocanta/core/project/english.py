"""Plurals, in one place. English alone: the names that designers give are in it, or stay as they are.

A library for this takes longer to load than a run to begin, and turns a lens into a len.
"""

from __future__ import annotations

_ES = ("s", "x", "z", "ch", "sh")


def plural(name: str) -> str:
    """A name for several: its last word in the plural; one that ends in s as it is, since it may be one already.

    >>> [plural(w) for w in ("dried pod", "ivy", "glass", "moths", "Key", "box", "Oil 2", "")]
    ['dried pods', 'ivies', 'glasses', 'moths', 'Keys', 'boxes', 'Oil 2', '']
    """
    if not name or not name[-1].isalpha() or (name.endswith("s") and not name.endswith("ss")):
        return name
    if name.endswith("y") and name[-2:-1] not in ("", *"aeiou"):
        return name[:-1] + "ies"
    return name + ("es" if name.endswith(_ES) else "s")


def singular(name: str) -> str:
    """A name for one, from one that is for several, as a currency is called.

    >>> [singular(w) for w in ("shillings", "pennies", "boxes", "brass", "gold")]
    ['shilling', 'penny', 'box', 'brass', 'gold']
    """
    if name.endswith("ies"):
        return name[:-3] + "y"
    if name.endswith(("sses", "xes", "ches", "shes")):
        return name[:-2]
    return name[:-1] if name.endswith("s") and not name.endswith("ss") else name


def counted(number: int, name: str) -> str:
    """So many of something.

    >>> counted(1, "copper key"), counted(3, "copper key"), counted(0, "moths")
    ('1 copper key', '3 copper keys', '0 moths')
    """
    return f"{number} {name if number == 1 else plural(name)}"
