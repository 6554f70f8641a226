"""The verbs of the command line, by the part of the work they do."""
