"""Arrays by what they hold; each function says in its own words what their axes are.

Pictures are arrays of bytes, (height, width, 4), RGBA; as words each pixel is one number, so that
equal pixels are found by one comparison:

    byte   0   1   2   3          word
         | R | G | B | A |   ->   0xAABBGGRR      (on machines that begin with the lowest byte)
"""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

Mask = npt.NDArray[np.bool_]
"""Yes or no, for pictures of shape (height, width): which pixels are something."""
Bytes = npt.NDArray[np.uint8]
Words = npt.NDArray[np.uint32]
"""Pixels, each as one number."""
Numbers = npt.NDArray[np.int32]
"""Numbers of pieces, as cells hold them."""
Whole = npt.NDArray[np.int64]
Indices = npt.NDArray[np.intp]
"""Places in another array."""
AnyWhole = npt.NDArray[np.signedinteger[Any]]
Floats = npt.NDArray[np.float32]
Reals = npt.NDArray[np.float64]


def packed(picture: Bytes) -> Words:
    """The pixels of a picture, (…, 4) bytes, each as one word, (…).

    >>> packed(np.array([[[1, 0, 0, 2]]], np.uint8))
    array([[33554433]], dtype=uint32)
    """
    words: Words = np.ascontiguousarray(picture).view(np.uint32)[..., 0]
    return words
