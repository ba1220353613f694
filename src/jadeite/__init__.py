"""Jadeite sizes flat nets to their contents and proves that they close."""

__version__ = "0.1.0"
