"""Walking around borders: edges by number, each with the one that follows."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Indices


def least_around(following: Indices) -> Indices:
    """For each edge the least number on its border."""
    least, ahead = np.arange(len(following)), following
    while True:
        seen: Indices = np.minimum(least, least[ahead])
        if (seen == least).all():
            return least
        least, ahead = seen, ahead[ahead]


def steps_to(ahead: Indices) -> Indices:
    """For each edge how many steps it is from one that leads to itself."""
    steps: Indices = (ahead != np.arange(len(ahead))).astype(np.intp)
    while True:
        further = steps[ahead]
        if not further.any():
            return steps
        steps = np.add(steps, further, dtype=np.intp)
        ahead = ahead[ahead]


def before(following: Indices) -> Indices:
    """The edge before each."""
    result = np.empty_like(following)
    result[following] = np.arange(len(following))
    return result
