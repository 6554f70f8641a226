"""The work itself, free of any interface: every edit is a function from one project to the next."""
