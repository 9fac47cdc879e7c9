"""Situations a practised keeper has judged: species, set-up, conclusion."""
