"""Proof: working through every way to play. Flats, places, values, exploring, verdicts; see `docs/proof.md`."""
