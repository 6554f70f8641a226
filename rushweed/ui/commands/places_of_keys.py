"""Keys by their places, for layouts on which the letters and digits of the list are not there.

1 2 3 4 5 6 7 8 9 0 - =        what a keyboard of the United States has there;
 Q W E R T Y U I O P [ ]       elsewhere digits may need Shift (AZERTY), or letters
  A S D F G H J K L ; '        be of another script (Greek, Cyrillic)
   Z X C V B N M , . /
"""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent

ROWS = ((10, "1234567890-="), (24, "QWERTYUIOP[]"), (38, "ASDFGHJKL;'"), (52, "ZXCVBNM,./"))
"""The codes of the first key of each row, as X and Wayland tell them (the kernel's and 8), and what
stands there."""
AT = {first + place: sign for first, row in ROWS for place, sign in enumerate(row)}
LAST_LATIN, NO_SIGN = 0x17F, 0x01000000
"""Letters beyond the first are of another script; keys from the second on are no signs."""


def is_letter(key: int) -> bool:
    """Whether a key is a letter of any script."""
    return key < NO_SIGN and chr(key).isalpha()


class KeysByPlace:
    """Knows from the keys that were pressed whether letters are of another script."""

    def __init__(self) -> None:
        self._other_script = False

    def find(self, event: QKeyEvent) -> int | None:
        """The key that stands there on the list's keyboard, where this one has another sign and
        what is wanted has no key of its own; None where it has."""
        key, sign = event.key(), AT.get(event.nativeScanCode())
        if key > LAST_LATIN and is_letter(key):
            self._other_script = True
        if sign is None or Qt.Key.Key_A <= key <= Qt.Key.Key_Z or key == ord(sign):
            return None
        if sign.isalpha():
            return ord(sign) if self._other_script else None
        if sign.isdigit():
            return None if key < NO_SIGN and chr(key).isdigit() else ord(sign)
        return ord(sign) if self._other_script and not Qt.Key.Key_Space <= key <= 0x7F else None
