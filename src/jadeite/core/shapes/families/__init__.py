"""One module for each family; they do not know of one another."""
