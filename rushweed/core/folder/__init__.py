"""Files inside a folder that may hold anything: names, links, locks, and saving as a whole."""
