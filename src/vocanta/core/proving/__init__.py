"""Proving a project: the proof's answers, each *yes* walked by the engine, as reports."""
