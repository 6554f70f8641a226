"""Whom to thank: credits as entries and as text."""

from __future__ import annotations

from rushweed.core.bale.manifest import CreditEntry
from rushweed.core.gather.licences import asked_for, texts_of
from rushweed.core.project.project import Project


def credit_entries(project: Project) -> tuple[CreditEntry, ...]:
    """One entry for every sheet, in the order of the sheets."""
    return tuple(
        CreditEntry(
            sheet.name,
            sheet.licence.author,
            sheet.licence.identifier,
            sheet.licence.source,
            sheet.licence.credit,
            asked_for(sheet.licence.identifier),
            texts_of(sheet.licence.identifier),
        )
        for sheet in project.sheets
    )


def credits_text(project: Project) -> str:
    """The credits as plain text: one paragraph for all sheets that share them."""
    shared: dict[str, list[str]] = {}
    for entry in credit_entries(project):
        shared.setdefault(_sentence(entry), []).append(entry.sheet)
    paragraphs = [f"{', '.join(sheets)}\n  {text}" for text, sheets in shared.items()]
    return f"Art in {project.name}\n\n" + "\n\n".join(paragraphs) + "\n"


def _sentence(entry: CreditEntry) -> str:
    """What the author asks for, or who that is; the licence and where it came from, as far as these
    are not said yet; below, what the licence asks for, and where its text is."""
    author = f"by {entry.author}" if entry.author else "author unknown"
    parts = [entry.credit or author]
    if not entry.licence:
        parts.append("no licence known")
    elif entry.licence not in entry.credit:
        parts.append(f"licence {entry.licence}")
    if entry.source and entry.source not in entry.credit:
        parts.append(f"source: {entry.source}")
    return "\n  ".join([", ".join(parts), *filter(None, [" ".join(entry.asks)]), *entry.texts])
