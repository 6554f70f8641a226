"""Lists of things that have names: calling one of them otherwise, or leaving one out, with all that
refers to it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, NamedTuple

from rushweed.core.project.project import Project, mapped, taken_names, with_sheet
from rushweed.core.project.references import Kind, Reference, renamed
from rushweed.core.values import Refusal


class Named(NamedTuple):
    """A list of named things: a field of the project, or of one of its sheets; and as what they are
    referred to, if they are."""

    field: str
    kind: Kind | None = None
    sheet: str = ""

    def things(self, project: Project) -> tuple[Any, ...]:
        """What is in it; nothing where its sheet is not there."""
        owners = (one for one in project.sheets if one.name == self.sheet)
        return getattr(next(owners, None) if self.sheet else project, self.field, ())

    def names(self, project: Project) -> set[str]:
        """The names of those things."""
        return {one.name for one in self.things(project)}

    def with_things(self, project: Project, things: tuple[Any, ...]) -> Project:
        """The project with other things in it."""
        changes: dict[str, Any] = {self.field: things}
        if self.sheet:
            return with_sheet(project, self.sheet, lambda old: replace(old, **changes))
        return replace(project, **changes)

    def called(self, project: Project, old: str, new: str) -> Project:
        """The project with one of the things called otherwise, wherever it is referred to."""
        if old == new:
            return project
        if self.kind is not None:
            project = renamed(project, Reference(self.kind, old, self.sheet), new)
        elif self is FIGURES and project.walker.figure == old:
            project = replace(project, walker=replace(project.walker, figure=new))
        things = self.things(project)
        called = mapped(things, lambda one: replace(one, name=new) if one.name == old else one)
        return project if called is things else self.with_things(project, called)

    def renamed(self, project: Project, old: str, new: str) -> Project:
        """The same by a name that somebody typed. Raises Refusal for none, or one that is taken."""
        new = new.strip()
        taken = taken_names(project) if self in (SHEETS, FIGURES) else self.names(project)
        if not new:
            raise Refusal("It needs a name. Type one.")
        if new != old and new in taken:
            raise Refusal("“{new}” is there already. Choose another name.", new=new)
        return self.called(project, old, new)

    def without(self, project: Project, name: str) -> Project:
        """The project without one of the things, and without what refers to it."""
        if self.kind is not None:
            project = renamed(project, Reference(self.kind, name, self.sheet))
        kept = tuple(one for one in self.things(project) if one.name != name)
        return self.with_things(project, kept)


SHEETS, LEVELS = Named("sheets", "sheet"), Named("levels", "level")
TREATMENTS, HEMS = Named("treatments", "treatment"), Named("hems", "hem")
RECIPES, PATCHES, MIXES, FIGURES = map(Named, ("recipes", "patches", "mixes", "figures"))
OF_PROJECT = SHEETS, LEVELS, TREATMENTS, HEMS, RECIPES, PATCHES, MIXES, FIGURES


def animations_of(sheet: str) -> Named:
    """The animations of a sheet."""
    return Named("animations", "animation", sheet)
