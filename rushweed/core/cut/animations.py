"""Frames become animations."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Collection, Sequence
from dataclasses import replace

from rushweed.core.project.figure import Cast
from rushweed.core.project.named import animations_of
from rushweed.core.project.project import Project, free_name, with_sheet
from rushweed.core.project.sheet import Animation, Play, Sheet
from rushweed.core.values import Refusal

FASTEST = 120.0
LONGEST_HOLD = 999
STEM = re.compile(r"^(?P<stem>.*\D)[ _.-]?\d+$")


def set_animation(
    project: Project,
    sheet: str,
    name: str,
    frames: Sequence[int],
    rate: float = 8.0,
    play: Play = "loop",
) -> Project:
    """Add or replace one animation of a sheet; `frames` are piece numbers in order. Holds stay
    as they are while the frames do."""
    known = find_animation(project.sheet(sheet), name)
    holds = known.holds if known and known.frames == tuple(frames) else ()
    animation = Animation(name, tuple(frames), _checked(rate), play, holds)

    def edit(old: Sheet) -> Sheet:
        kept = [a if a.name != name else animation for a in old.animations]
        if animation not in kept:
            kept.append(animation)
        return replace(old, animations=tuple(kept))

    return with_sheet(project, sheet, edit)


def change_animation(
    project: Project, sheet: str, name: str, edit: Callable[[Animation], Animation]
) -> Project:
    """The project with one animation edited."""

    def change(old: Sheet) -> Sheet:
        changed = tuple(edit(a) if a.name == name else a for a in old.animations)
        return replace(old, animations=changed)

    return with_sheet(project, sheet, change)


def begin_animation(
    project: Project, sheet: str, frames: Sequence[int], name: str = "animation"
) -> tuple[Project, str]:
    """A new animation of these frames under a free name. Returns the project and the name."""
    if not frames:
        raise Refusal("Select the frames of the animation first.")
    name = free_name(name, {a.name for a in project.sheet(sheet).animations})
    return set_animation(project, sheet, name, frames), name


def set_rate(project: Project, sheet: str, name: str, rate: float) -> Project:
    """Play so many frames per second. Raises Refusal where that cannot be."""
    rate = _checked(rate)
    return change_animation(project, sheet, name, lambda a: replace(a, rate=rate))


def set_play(project: Project, sheet: str, name: str, play: Play) -> Project:
    """Play in a loop, once, or back and forth."""
    return change_animation(project, sheet, name, lambda a: replace(a, play=play))


def set_hold(
    project: Project, sheet: str, name: str, places: Collection[int], steps: int
) -> Project:
    """Show the frames at these places of the animation for so many steps each."""
    if not 1 <= steps <= LONGEST_HOLD:
        raise Refusal("A frame is held for 1 to {longest_hold} steps.", longest_hold=LONGEST_HOLD)

    def edit(old: Animation) -> Animation:
        held = [steps if place in places else hold for place, hold in enumerate(holds_of(old))]
        return _with(old, list(zip(old.frames, held, strict=True)))

    return change_animation(project, sheet, name, edit)


def move_frames(
    project: Project, sheet: str, name: str, places: Collection[int], before: int
) -> Project:
    """Put the frames at these places, in their order, before the frame at another place."""

    def edit(old: Animation) -> Animation:
        pairs = list(zip(old.frames, holds_of(old), strict=True))
        moved = [pair for place, pair in enumerate(pairs) if place in places]
        head = [p for place, p in enumerate(pairs[:before]) if place not in places]
        tail = [p for place, p in enumerate(pairs) if place >= before and place not in places]
        return _with(old, head + moved + tail)

    return change_animation(project, sheet, name, edit)


def add_frames(project: Project, sheet: str, name: str, frames: Sequence[int]) -> Project:
    """Put more frames at the end."""

    def edit(old: Animation) -> Animation:
        pairs = list(zip(old.frames, holds_of(old), strict=True))
        return _with(old, pairs + [(frame, 1) for frame in frames])

    return change_animation(project, sheet, name, edit)


def take_frames_out(project: Project, sheet: str, name: str, places: Collection[int]) -> Project:
    """Take frames out of an animation; the pieces stay. Without a frame it is gone."""

    def edit(old: Animation) -> Animation:
        pairs = enumerate(zip(old.frames, holds_of(old), strict=True))
        return _with(old, [pair for place, pair in pairs if place not in places])

    project = change_animation(project, sheet, name, edit)
    left = find_animation(project.sheet(sheet), name)
    return project if left is None or left.frames else remove_animation(project, sheet, name)


def remove_animation(project: Project, sheet: str, name: str) -> Project:
    """Forget an animation; props that played it stand still."""
    return animations_of(sheet).without(project, name)


def rename_animation(project: Project, sheet: str, name: str, new: str) -> Project:
    """Call an animation otherwise, in levels too. Raises Refusal when the name is taken."""
    return animations_of(sheet).renamed(project, name, new)


def animate_by_names(project: Project, sheet: str) -> Project:
    """Pieces whose names differ in their last number only (`run_1`, `run_2`) become animations.

    Raises Refusal when there are none.
    """
    from natsort import natsorted

    stems: dict[str, list[tuple[str, int]]] = defaultdict(list)
    for piece in project.sheet(sheet).pieces:
        match = STEM.match(piece.name)
        if match:
            stems[match["stem"].rstrip(" _.-") or match["stem"]].append((piece.name, piece.number))
    groups = {stem: pieces for stem, pieces in stems.items() if len(pieces) > 1}
    if not groups:
        raise Refusal(
            "No names of pieces differ in a number alone. Name them run_1, run_2 … first."
        )
    for stem, pieces in groups.items():
        known = find_animation(project.sheet(sheet), stem)
        frames = [number for _, number in natsorted(pieces)]
        rate, play = (known.rate, known.play) if known else (8.0, "loop")
        project = set_animation(project, sheet, stem, frames, rate, play)
    return project


def holds_of(animation: Animation) -> tuple[int, ...]:
    """For how many steps each frame is shown."""
    return animation.holds or (1,) * len(animation.frames)


def one_round(animation: Animation) -> tuple[int, ...]:
    """The places of the frames shown step by step, until the animation begins anew or ends."""
    places = list(range(len(animation.frames)))
    if animation.play == "back and forth":
        places += places[-2:0:-1]
    holds = holds_of(animation)
    return tuple(place for place in places for _ in range(holds[place]))


def place_at(animation: Animation, seconds: float) -> int:
    """The place of the frame shown after that many seconds."""
    steps = one_round(animation)
    step = int(seconds * animation.rate)
    return steps[min(step, len(steps) - 1) if animation.play == "once" else step % len(steps)]


def frame_at(animation: Animation, seconds: float) -> int:
    """The piece number shown after that many seconds."""
    return animation.frames[place_at(animation, seconds)]


def begun_by(sheet: Sheet, piece: int) -> Animation | None:
    """The first animation of a sheet that begins with a piece, or None."""
    return next((one for one in sheet.animations if one.frames[:1] == (piece,)), None)


def find_animation(sheet: Sheet | Cast, name: str) -> Animation | None:
    """The sheet's animation of that name, or None."""
    return next((a for a in sheet.animations if a.name == name), None)


def _checked(rate: float) -> float:
    if not 0 < rate <= FASTEST:
        raise Refusal("A rate lies between 0 and {fastest:g} frames/s.", fastest=FASTEST)
    return rate


def _with(animation: Animation, pairs: Sequence[tuple[int, int]]) -> Animation:
    """The animation with other frames and holds; holds of one step each are not written down."""
    frames = tuple(frame for frame, _ in pairs)
    holds = tuple(hold for _, hold in pairs)
    return replace(animation, frames=frames, holds=holds if any(h > 1 for h in holds) else ())
