"""How well tiles meet when they lie beside each other."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import Floats
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.alpha import premultiplied
from rushweed.core.project.facts import Side

OPPOSITE: dict[Side, Side] = {
    "left": "right",
    "right": "left",
    "above": "below",
    "below": "above",
}


@dataclass(frozen=True, slots=True)
class Fit:
    """A tile that may lie at a side of another, and how much worse the two meet there than
    pixels inside of them do, 0 to 255."""

    number: int
    gap: float


def best_fits(pictures: Mapping[int, Picture], number: int, side: Side) -> list[Fit]:
    """All tiles of the same size by how well they meet one of them at a side, the best first.
    Pictures are straight alpha, of shape (height, width, 4)."""
    own = pictures[number]
    alike = [other for other, picture in pictures.items() if picture.shape == own.shape]
    stack = np.stack([premultiplied(pictures[other]) for other in alike])
    here = _edge(premultiplied(own)[None], side)
    there = _edge(stack, OPPOSITE[side])
    apart = np.abs(there - here).mean(axis=(1, 2))
    usual = np.minimum(_usual_step(stack, side), _usual_step(premultiplied(own)[None], side))
    gaps = np.maximum(apart - usual, 0)
    found = [Fit(other, float(gap)) for other, gap in zip(alike, gaps, strict=True)]
    return sorted(found, key=lambda fit: (round(fit.gap, 2), fit.number != number, fit.number))


def gap_between(one: Picture, other: Picture, side: Side) -> float:
    """How much worse a tile meets another at its side than pixels inside of them do, 0 to 255."""
    here, there = premultiplied(one)[None], premultiplied(other)[None]
    apart = float(np.abs(_edge(here, side) - _edge(there, OPPOSITE[side])).mean())
    usual = min(float(_usual_step(here, side)[0]), float(_usual_step(there, side)[0]))
    return max(apart - usual, 0.0)


def _edge(stack: Floats, side: Side) -> Floats:
    """The pixels at a side of tiles, of shape (tiles, pixels, 4)."""
    edges: dict[Side, Floats] = {
        "left": stack[:, :, 0],
        "right": stack[:, :, -1],
        "above": stack[:, 0],
        "below": stack[:, -1],
    }
    return edges[side]


def _usual_step(stack: Floats, side: Side) -> Floats:
    """By how much neighbouring lines inside of tiles differ, of shape (tiles,)."""
    axis = 2 if side in ("left", "right") else 1
    if stack.shape[axis] < 2:
        return np.zeros(len(stack), np.float32)
    steps = np.abs(np.diff(stack, axis=axis)).mean(axis=(3 - axis, 3))
    usual: Floats = np.median(steps, axis=1).astype(np.float32)
    return usual
