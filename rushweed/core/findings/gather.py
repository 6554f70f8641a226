"""Findings of Gather."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from rushweed.core.cut.reshaping import bring_back
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gather.enlargement import enlargement_of
from rushweed.core.gather.licences import names_author, spdx
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.words import say


def no_licence(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose licence nobody named."""
    for sheet in project.sheets:
        if not sheet.licence.identifier:
            yield Finding(
                "no-licence",
                "Gather",
                say("{name} has no licence yet.", name=sheet.name),
                say("Without one the game may not ship it, and its author goes without thanks."),
                sheet.name,
                sheet.name,
            )


def no_author(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose licence asks to name the author, and nobody is named."""
    for sheet in project.sheets:
        licence = sheet.licence
        if names_author(licence.identifier) and not (licence.author or licence.credit):
            yield Finding(
                "no-author",
                "Gather",
                say(
                    "{name} is under {identifier}, but its author is not named.",
                    name=sheet.name,
                    identifier=licence.identifier,
                ),
                say("The licence asks for it: without the name the game may not ship it."),
                sheet.name,
                sheet.name,
            )


def unknown_licence(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose licence is no identifier that others know."""
    for sheet in project.sheets:
        said = sheet.licence.identifier
        if said and not spdx(said):
            yield Finding(
                "unknown-licence",
                "Gather",
                say(
                    "{name} is under “{said}”, which is no SPDX identifier.",
                    name=sheet.name,
                    said=said,
                ),
                say("Programs and stores that read the credits will not know what it allows."),
                sheet.name,
                sheet.name,
            )


def picture_unreadable(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose picture is gone or damaged."""
    for sheet in project.sheets:
        try:
            art.check(sheet)
        except Refusal as refusal:
            yield Finding(
                "picture-unreadable",
                "Gather",
                str(refusal),
                say("The game would show nothing in its place."),
                sheet.name,
                sheet.name,
            )


def badly_enlarged(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose pixels were spoilt by the way they were enlarged."""
    for sheet in project.sheets:
        try:
            found = enlargement_of(art, sheet)
        except Refusal:
            continue
        if found is not None:
            yield Finding(
                "badly-enlarged",
                "Gather",
                say("{name} was {warning}.", name=sheet.name, warning=found.warning),
                say("It will shimmer or look soft. Bring it back to the pixels it was drawn with."),
                sheet.name,
                sheet.name,
                mend_words=say("bring back to {size} px", size=found.redrawn.size),
                mend=partial(bring_back, name=sheet.name, redrawn=found.redrawn),
            )


def picture_gone(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose file is gone from the project's folder, though a copy is still shown."""
    for sheet in project.sheets:
        lost = [s.path for s in sheet.sources if not (art.folder / s.path).is_file()]
        if lost and all(art.has(source) for source in sheet.sources):
            yield Finding(
                "picture-gone",
                "Gather",
                say("“{lost}” is gone from the project's folder.", lost=lost[0]),
                say("What you see is a copy that no other machine has. Bring the file back."),
                sheet.name,
                sheet.name,
            )
