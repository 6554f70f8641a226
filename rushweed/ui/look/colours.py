"""The named colours, light (Paper) and dark (Dusk). No other file names a colour."""

from __future__ import annotations

from PyQt6.QtGui import QColor


class Colours:
    """One theme. Tide is selection, focus and the view chosen; rust is collision and the active
    tool; ochre is findings and “differs”; ink fills the one main button."""

    paper: QColor
    raised: QColor
    well: QColor
    field: QColor
    line: QColor
    inner_line: QColor
    strong_line: QColor
    ink: QColor
    soft_ink: QColor
    faint_ink: QColor
    on_ink: QColor
    rush: QColor
    rush_deep: QColor
    rush_wash: QColor
    rush_text: QColor
    tide: QColor
    tide_wash: QColor
    tide_text: QColor
    on_tide: QColor
    rust: QColor
    on_rust: QColor
    ochre: QColor
    on_ochre: QColor
    ochre_ink: QColor
    ochre_wash: QColor
    ochre_pale: QColor
    ochre_edge: QColor
    red: QColor
    cord_edge: QColor
    cord_body: QColor
    cord_strand: QColor
    cord_light: QColor
    raw_edge: QColor
    raw_body: QColor
    raw_strand: QColor
    raw_light: QColor
    wall: QColor
    floor: QColor

    def __init__(self, **codes: str) -> None:
        for name in self.__annotations__:
            setattr(self, name, QColor(codes[name]))


PAPER = Colours(
    paper="#F2EDE1",
    raised="#FBF8F1",
    well="#E5DFD1",
    field="#FFFFFF",
    line="#D6CCB8",
    inner_line="#E4DCCB",
    strong_line="#B5AA92",
    ink="#212E29",
    soft_ink="#55615A",
    faint_ink="#606961",
    on_ink="#FBF8F1",
    rush="#4C6B36",
    rush_deep="#2F4724",
    rush_wash="#E6EAD3",
    rush_text="#2D4220",
    tide="#15636D",
    tide_wash="#DAE9E7",
    tide_text="#0F4A52",
    on_tide="#FFFFFF",
    rust="#A8451F",
    on_rust="#FFFFFF",
    ochre="#D39A2A",
    on_ochre="#241A02",
    ochre_ink="#6E4A00",
    ochre_wash="#F7E8C6",
    ochre_pale="#FBF3DF",
    ochre_edge="#C2A052",
    red="#9E2F2A",
    cord_edge="#2B4021",
    cord_body="#587A3C",
    cord_strand="#7F9C58",
    cord_light="#A9BE83",
    raw_edge="#8C7E57",
    raw_body="#CDBD93",
    raw_strand="#E9DEC0",
    raw_light="#F8F1DC",
    wall="#D5D5D2",
    floor="#C6C6C2",
)

DUSK = Colours(
    paper="#20262A",
    raised="#293136",
    well="#191E21",
    field="#1C2226",
    line="#3A444A",
    inner_line="#323B41",
    strong_line="#5A676E",
    ink="#E9E5D8",
    soft_ink="#A9B1AC",
    faint_ink="#979F9B",
    on_ink="#20262A",
    rush="#9DBB78",
    rush_deep="#C0D59C",
    rush_wash="#2F3B2C",
    rush_text="#CBDDB0",
    tide="#5DB5BE",
    tide_wash="#22393D",
    tide_text="#A5DDE2",
    on_tide="#10201F",
    rust="#E07A4C",
    on_rust="#2A1206",
    ochre="#DCA83C",
    on_ochre="#241A02",
    ochre_ink="#F0CE88",
    ochre_wash="#463818",
    ochre_pale="#3A311C",
    ochre_edge="#8A7038",
    red="#E88078",
    cord_edge="#16210F",
    cord_body="#4E6C36",
    cord_strand="#7F9C58",
    cord_light="#A9BE83",
    raw_edge="#4A4431",
    raw_body="#7D7355",
    raw_strand="#9D926F",
    raw_light="#B9AE8A",
    wall="#4A4D4F",
    floor="#3B3E40",
)

THEMES: dict[str, Colours] = {"Paper": PAPER, "Dusk": DUSK}


class Marks:
    """Colours of overlays on art: the same in both themes, for the art is the same."""

    ink: QColor
    paper: QColor
    tide: QColor
    rust: QColor
    hatch: QColor
    hatch_under: QColor
    ochre: QColor
    ochre_edge: QColor
    ochre_halo: QColor
    ochre_ink: QColor
    checker: QColor
    checker_other: QColor
    on_tide: QColor
    frame: QColor

    def __init__(self, **colours: QColor) -> None:
        for name in self.__annotations__:
            setattr(self, name, colours[name])


MARKS = Marks(
    ink=QColor("#15201C"),
    paper=QColor("#FBF8F1"),
    tide=QColor("#15636D"),
    rust=QColor("#A8451F"),
    hatch=QColor("#E2703A"),
    hatch_under=QColor(40, 10, 0, 140),
    ochre=QColor("#E8A92E"),
    ochre_edge=QColor("#5A3C00"),
    ochre_halo=QColor("#FBF1D6"),
    ochre_ink=QColor("#241A02"),
    checker=QColor("#CBCBC9"),
    checker_other=QColor("#BFBFBD"),
    on_tide=QColor("#FFFFFF"),
    frame=QColor("#A79D86"),
)


class Look:
    """The theme in use. There is one, handed to every widget that paints."""

    def __init__(self, theme: str = "Paper") -> None:
        self.theme = theme if theme in THEMES else "Paper"

    @property
    def colours(self) -> Colours:
        return THEMES[self.theme]


look = Look()


def css_names(colours: Colours) -> dict[str, str]:
    """Every colour by its name, as the style sheet writes it."""
    return {name: getattr(colours, name).name() for name in Colours.__annotations__}
