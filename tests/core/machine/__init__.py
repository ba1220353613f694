"""Cutting with a machine."""
