"""What was decided for one sheet is offered for those that are like it."""

from __future__ import annotations

from functools import partial

from rushweed.core.cut.kin import cut_alike, kin_to_cut
from rushweed.core.words import counted, say, some
from rushweed.ui.shell.services import Services


def offer_kin(services: Services, name: str) -> None:
    """Offer to cut the kin of a sheet as it was cut."""
    desk = services.desk
    names = kin_to_cut(desk.project, desk.art, name)
    if not names:
        return
    what = counted(len(names), "sheet", "sheets")

    def act() -> None:
        words = say("Cut {what} as {name} is", what=what, name=name)
        edit = partial(cut_alike, art=desk.art, name=name, names=names)
        services.beside.do(words, edit, names)

    told = say("{n} more like {name}: {names}.")
    told = told.format(n=len(names), name=name, names=some(names))
    services.offer(told, say("Cut them alike"), act)
