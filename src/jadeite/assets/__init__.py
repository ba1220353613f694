"""Fonts, icons, and the demo project."""
