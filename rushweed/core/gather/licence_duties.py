"""What licences may ask for, in plain words, as they stand in bundles."""

from __future__ import annotations

from rushweed.core.words import say

NAME = "Name the author."
ALIKE = "Share changed art under the same licence."
TEXT = "Keep the licence's text with it."
NOT_FOR_SALE = "Not in games that earn money."
UNCHANGED = "It may not be changed."
NOTHING = "It asks for nothing."
READ = "Read the licence for what it asks."


def duty_said(duty: str) -> str:
    """One of these in the user's language."""
    return say(duty)
