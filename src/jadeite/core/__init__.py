"""Everything Jadeite knows about papercraft; nothing here imports Qt."""
