"""The style sheet of the toolkit's own parts, made from the named colours."""

from __future__ import annotations

from string import Template

from PyQt6.QtGui import QPalette

from rushweed.ui.look.colours import Colours, css_names

SHEET = Template("""
* { outline: none; }
QMainWindow, QDialog { background: $paper; }
QLabel { color: $ink; background: transparent; }
QLabel[role="caption"] { color: $soft_ink; font-size: 11px; }
QLabel[role="heading"] { font-weight: 600; }
QLabel[role="result"] {
    background: $rush_wash; color: $rush_text;
    border-radius: 3px; padding: 4px 8px; font-size: 11px;
}
QLabel[role="warning"] {
    background: $ochre_wash; color: $ochre_ink;
    border-radius: 3px; padding: 4px 8px; font-size: 11px;
}
QLabel[role="differs"] { color: $ochre_ink; font-size: 11px; }
QMenuBar { background: $paper; color: $ink; border: none; padding: 3px 4px; }
QMenuBar::item { padding: 3px 9px; border-radius: 4px; background: transparent; }
QMenuBar::item:selected, QMenuBar::item:pressed { background: $tide_wash; color: $tide_text; }
QMenu { background: $raised; color: $ink; border: 1px solid $strong_line; padding: 4px; }
QMenu::item { padding: 5px 28px 5px 12px; border-radius: 3px; }
QMenu::item:selected { background: $tide_wash; color: $tide_text; }
QMenu::item:disabled { color: $faint_ink; }
QMenu::separator { height: 1px; background: $line; margin: 4px 6px; }
QToolTip {
    background: $ink; color: $on_ink; border: 1px solid $ink; padding: 4px 7px; font-size: 11px;
}
QPushButton {
    background: $raised; color: $ink; border: 1px solid $strong_line; border-radius: 4px;
    padding: 0 9px; min-height: 22px; max-height: 22px;
}
QPushButton:hover { border-color: $ink; }
QPushButton:pressed { background: $well; }
QPushButton:focus { border: 1px solid $tide; background: $tide_wash; }
QPushButton:disabled { color: $faint_ink; border-color: $line; }
QPushButton[role="main"] { background: $ink; color: $on_ink; border-color: $ink; font-weight: 500; }
QPushButton[role="main"]:hover { background: $tide; border-color: $tide; color: $on_tide; }
QPushButton[role="main"]:focus { border: 2px solid $tide; padding: 0 8px; }
QPushButton[role="main"]:disabled { background: $line; border-color: $line; color: $soft_ink; }
QPushButton[role="small"] { font-size: 11px; padding: 0 7px; min-height: 20px; max-height: 20px; }
QPushButton[role="ochre"] { font-size: 11px; padding: 0 7px; min-height: 20px; max-height: 20px;
    border-color: $ochre_edge; background: $field; color: $ochre_ink; }
QPushButton[role="tool"]:checked {
    background: $rust; color: $on_rust; border-color: $rust; font-weight: 500; }
QPushButton[role="link"] { background: transparent; border: none; color: $tide; font-weight: 500;
    text-decoration: underline; padding: 0 2px; font-size: 11px; }
QPushButton[role="link"]:hover { color: $ink; }
QPushButton[role="link"]:disabled { color: $faint_ink; text-decoration: none; }
QPushButton[role="findings"] { background: $ochre_wash; border: 1px solid $ochre_edge;
    color: $ochre_ink; font-weight: 500; min-height: 24px; max-height: 24px; }
QPushButton[role="findings"]:hover { border-color: $ochre_ink; }
QPushButton[role="facts"] { background: transparent; border: 1px solid transparent;
    color: $soft_ink; font-size: 11px; margin-right: 8px; }
QPushButton[role="facts"]:hover { border-color: $strong_line; color: $ink; }
QPushButton[role="facts"][open="true"] { background: $tide_wash; color: $tide_text; }
QPushButton[role="quiet"] { background: transparent; border: 1px solid transparent; }
QPushButton[role="quiet"]:hover { border-color: $strong_line; }
QPushButton[chip="only"], QPushButton[chip="first"], QPushButton[chip="middle"],
QPushButton[chip="last"] { padding: 0 6px; border-radius: 0; margin-left: -1px; }
QPushButton[chip="only"] { border-radius: 4px; margin-left: 0; }
QPushButton[chip="first"] { border-top-left-radius: 4px; border-bottom-left-radius: 4px;
    margin-left: 0; }
QPushButton[chip="last"] { border-top-right-radius: 4px; border-bottom-right-radius: 4px; }
QPushButton[chip]:checked { background: $tide; border-color: $tide; color: $on_tide;
    font-weight: 500; }
QPushButton[chip][tool="true"]:checked { background: $rust; border-color: $rust; color: $on_rust; }
QLineEdit {
    background: $field; color: $ink; border: 1px solid $strong_line; border-radius: 4px;
    padding: 0 6px; min-height: 22px; max-height: 22px;
    selection-background-color: $tide; selection-color: $on_tide;
    placeholder-text-color: $faint_ink;
}
QLineEdit:focus { border: 2px solid $tide; padding: 0 5px; min-height: 20px; max-height: 20px; }
QLineEdit[differs="true"] { color: $ochre_ink; border-color: $ochre_edge; background: $ochre_pale; }
QLineEdit[bare="true"] { border: none; background: transparent; padding: 0; }
QComboBox { background: $field; color: $ink; border: 1px solid $strong_line; border-radius: 4px;
    padding: 0 7px; min-height: 22px; max-height: 22px; }
QComboBox:focus { border: 2px solid $tide; padding: 0 6px; min-height: 20px; max-height: 20px; }
QLineEdit:disabled, QComboBox:disabled {
    background: $raised; color: $faint_ink; border-color: $line; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox QAbstractItemView { background: $raised; color: $ink; border: 1px solid $strong_line;
    selection-background-color: $tide_wash; selection-color: $tide_text; padding: 3px; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 2px; }
QScrollBar::handle:vertical { background: $strong_line; border-radius: 2px; min-height: 28px; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 2px; }
QScrollBar::handle:horizontal { background: $strong_line; border-radius: 2px; min-width: 28px; }
QScrollBar::handle:hover { background: $soft_ink; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QScrollArea { border: none; background: transparent; }
QAbstractScrollArea::corner { background: transparent; border: none; }
QListView { background: $paper; border: none; color: $ink; }
QTableView { background: $well; border: none; color: $ink; }
QHeaderView, QTableCornerButton::section { background: $paper; border: none; }
QHeaderView::section { background: $paper; color: $soft_ink; border: none; padding: 0 12px; }
QPlainTextEdit { background: $raised; color: $ink; border: 1px solid $line; border-radius: 4px;
    padding: 8px; selection-background-color: $tide; selection-color: $on_tide; }
QProgressBar { background: $well; border: none; border-radius: 2px; max-height: 4px; }
QProgressBar::chunk { background: $rush; border-radius: 2px; }
""")


def style_sheet(colours: Colours) -> str:
    """The style sheet in a theme's colours."""
    return SHEET.substitute(css_names(colours))


def palette(colours: Colours) -> QPalette:
    """The toolkit's palette in a theme's colours, for parts the style sheet does not reach."""
    result = QPalette()
    roles = {
        QPalette.ColorRole.Window: colours.paper,
        QPalette.ColorRole.Base: colours.field,
        QPalette.ColorRole.AlternateBase: colours.raised,
        QPalette.ColorRole.Text: colours.ink,
        QPalette.ColorRole.WindowText: colours.ink,
        QPalette.ColorRole.Button: colours.raised,
        QPalette.ColorRole.ButtonText: colours.ink,
        QPalette.ColorRole.Highlight: colours.tide,
        QPalette.ColorRole.HighlightedText: colours.on_tide,
        QPalette.ColorRole.PlaceholderText: colours.faint_ink,
        QPalette.ColorRole.Link: colours.tide,
    }
    for role, colour in roles.items():
        result.setColor(role, colour)
    return result
