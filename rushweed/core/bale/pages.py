"""Atlas pages: all pieces of a project on as few pictures as hold them, with space and repeated
edges between."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from rushweed.core.bale.atlas_entries import AtlasEntry, at_density, draw_edged, make_entries
from rushweed.core.bale.packing import Packed, pack_pages
from rushweed.core.bulk import in_bulk
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.true_pixel import enlarged
from rushweed.core.gauge.lighting import FLAT
from rushweed.core.gauge.sides import allowed_size, needed_sides
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe, Sides, Treatment
from rushweed.core.value_ranges import LARGEST_SIDE
from rushweed.core.values import Point, Rect, Refusal, Size


@dataclass(frozen=True, slots=True)
class Placed:
    """Where a piece lies: the page, its rectangle there, whether it is turned by a quarter
    clockwise, how large it is untrimmed, and where what is on the page begins in that."""

    page: int
    rect: Rect
    turned: bool
    size: Size
    offset: Point


@dataclass(frozen=True, slots=True, eq=False)
class Plan:
    """What goes where, before anything is drawn: each page's entries with their places, and its
    size at density 1."""

    size: Size
    entries: tuple[tuple[AtlasEntry, Packed], ...]
    treatment: Treatment


@dataclass(frozen=True, eq=False)
class Page:
    """One page; its pictures are drawn when they are asked for."""

    plan: Plan
    densities: tuple[int, ...]

    @property
    def treatment(self) -> Treatment:
        """What its entries share where they have to."""
        return self.plan.treatment

    @cached_property
    def pictures(self) -> dict[int, Picture]:
        """The page by density."""
        return {density: _drawn(self.plan, density, False) for density in self.densities}

    @cached_property
    def normals(self) -> dict[int, Picture] | None:
        """The normal maps at the same places, None when no entry has one."""
        if not self.is_lit:
            return None
        return {density: _drawn(self.plan, density, True) for density in self.densities}

    def forget_pictures(self) -> None:
        """Have its pictures drawn anew when they are asked for again."""
        for name in ("pictures", "normals"):
            self.__dict__.pop(name, None)

    @property
    def is_lit(self) -> bool:
        """Whether any entry has a normal map."""
        return any(entry.normals is not None for entry, _ in self.plan.entries)

    @property
    def picture(self) -> Picture:
        """The page at the first density."""
        return self.pictures[self.densities[0]]

    @cached_property
    def places(self) -> dict[int, Rect]:
        """Each piece's rectangle by its number, at density 1."""
        return {number: one.rect for number, one in _placed(self.plan, 0).items()}

    @cached_property
    def fill(self) -> float:
        """The share of the page that pieces cover, 0 to 1."""
        used = {place: place.area for place in self.places.values()}
        return sum(used.values()) / (self.plan.size.width * self.plan.size.height)


@dataclass(frozen=True, slots=True, eq=False)
class Atlas:
    """All pages, and where each piece lies by its number."""

    pages: tuple[Page, ...]
    placed: dict[int, Placed]


def make_atlas(project: Project, art: Art, recipe: Recipe) -> Atlas:
    """Put every piece of every sheet on pages, as the recipe says. Raises Refusal for a piece that
    is larger than a page."""
    return atlas_of(plan_pages(make_entries(project, art, recipe), recipe), recipe)


def atlas_of(plans: Sequence[Plan], recipe: Recipe) -> Atlas:
    """The pages of plans, not drawn yet, and where pieces lie on them."""
    placed: dict[int, Placed] = {}
    for number, plan in enumerate(plans):
        placed.update(_placed(plan, number))
    return Atlas(tuple(draw_page(plan, recipe) for plan in plans), placed)


@in_bulk()
def plan_pages(entries: Sequence[AtlasEntry], recipe: Recipe) -> list[Plan]:
    """Share entries out to pages: those that need pages of their own form first."""
    groups: dict[object, list[AtlasEntry]] = {}
    for entry in entries:
        groups.setdefault(_page_kind(entry.treatment, recipe), []).append(entry)
    plans = []
    for group in groups.values():
        sides = _sides(group, recipe)
        largest = recipe.largest if sides == "any" else _below(recipe.largest, sides)
        for entry in group:
            _refuse_large(entry, largest)
        rooms = [entry.room for entry in group]
        spare = min(entry.treatment.padding for entry in group)
        pages, packed = pack_pages(rooms, largest + spare, recipe.turned)
        for number in range(len(pages)):
            on_page = tuple(
                (entry, one) for entry, one in zip(group, packed, strict=True) if one.page == number
            )
            size = _fitting(on_page, sides, recipe.square)
            if max(size) > recipe.largest:
                raise Refusal(
                    "The pieces do not fit pages of {largest} px a side with these sides. "
                    "Allow larger pages in the recipe.",
                    largest=recipe.largest,
                )
            plans.append(Plan(size, on_page, group[0].treatment))
    return plans


def _refuse_large(entry: AtlasEntry, largest: int) -> None:
    height, width = entry.picture.shape[:2]
    if max(height, width) + 2 * entry.edge > largest:
        raise Refusal(
            "“{name}” is {width} × {height} px, which does not fit a page of {largest} "
            "px a side. Allow larger pages in the recipe, or cut it up.",
            name=entry.name,
            width=width,
            height=height,
            largest=largest,
        )


def draw_page(plan: Plan, recipe: Recipe) -> Page:
    """A page in all densities of a recipe. Raises Refusal where one is larger than any picture."""
    for density in recipe.densities:
        side = max(plan.size) * density
        if side > LARGEST_SIDE:
            raise Refusal(
                "A page of {size} px would be {side} px a side at density {density}, more "
                "than {largest_side}. Allow smaller pages, or a lower density, in the "
                "recipe.",
                size=plan.size,
                side=side,
                density=density,
                largest_side=LARGEST_SIDE,
            )
    return Page(plan, recipe.densities)


def _drawn(plan: Plan, density: int, normals: bool) -> Picture:
    shape = (plan.size.height * density, plan.size.width * density, 4)
    page = np.zeros(shape, np.uint8)
    if normals:
        page.view(np.uint32)[:] = np.array(FLAT, np.uint8).view(np.uint32)
    for entry, packed in plan.entries:
        if normals and entry.normals is None:
            continue
        picture = (
            enlarged(entry.normals, density)
            if normals and entry.normals is not None
            else at_density(entry, density)
        )
        if packed.turned:
            picture = np.rot90(picture, -1)
        x, y = int(packed.corner.x) * density, int(packed.corner.y) * density
        draw_edged(page, picture, x, y, entry.edge * density)
    return page


def _placed(plan: Plan, page: int) -> dict[int, Placed]:
    found = {}
    for entry, packed in plan.entries:
        x, y = int(packed.corner.x) + entry.edge, int(packed.corner.y) + entry.edge
        height = entry.picture.shape[0]
        for number, inside in entry.pieces.items():
            rect = inside.rect
            if packed.turned:
                rect = Rect(height - rect.bottom, rect.x, rect.height, rect.width)
            place = Rect(x + rect.x, y + rect.y, rect.width, rect.height)
            found[number] = Placed(page, place, packed.turned, inside.size, inside.offset)
    return found


def _page_kind(treatment: Treatment, recipe: Recipe) -> object:
    """What entries must share to lie on one page."""
    if recipe.apart:
        return treatment
    if recipe.picture == "PNG":
        return treatment.multiplied, treatment.compression.form == "palette"
    return treatment.multiplied, treatment.compression, treatment.mipmaps


def _sides(entries: Sequence[AtlasEntry], recipe: Recipe) -> Sides:
    """The strictest of what the recipe, the treatments and the form ask for."""
    wanted = {recipe.sides, *(entry.treatment.sides for entry in entries)}
    if recipe.picture in ("KTX 2", "DDS"):
        wanted |= {needed_sides(entry.treatment) for entry in entries}
    order: tuple[Sides, ...] = ("power of two", "multiple of four", "any")
    return next(one for one in order if one in wanted)


def _below(side: int, sides: Sides) -> int:
    return 1 << side.bit_length() - 1 if sides == "power of two" else side // 4 * 4


def _fitting(on_page: Sequence[tuple[AtlasEntry, Packed]], sides: Sides, square: bool) -> Size:
    """The smallest page of that kind around all entries with their edges."""
    right = bottom = 1
    for entry, packed in on_page:
        height, width = entry.picture.shape[:2]
        if packed.turned:
            width, height = height, width
        right = max(right, int(packed.corner.x) + width + 2 * entry.edge)
        bottom = max(bottom, int(packed.corner.y) + height + 2 * entry.edge)
    size = allowed_size(Size(right, bottom), sides)
    return Size(max(size), max(size)) if square else size
