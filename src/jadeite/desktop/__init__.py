"""The window: thin Qt over the core."""
