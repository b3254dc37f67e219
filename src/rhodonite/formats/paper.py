"""Documents of words on A4: pages with a foot that says what they are and which page it is."""

from __future__ import annotations

from datetime import datetime

from fpdf import FPDF

from .drawing.letters import FAMILY, font_file

Colour = tuple[int, int, int]
INK, QUIET, ROSE = (35, 26, 36), (90, 78, 92), (178, 58, 99)


class Paper(FPDF):
    """Pages with a foot.

    Args:
        title: of the document, for its properties; ``foot``: what stands at the foot of each page.
        at: when it is printed.
        across: with the longer side across.
        size: A4 or A3.
    """

    def __init__(self, title: str, foot: str, at: datetime, *, across: bool = False, size: str = "A4") -> None:
        super().__init__("landscape" if across else "portrait", format=size)
        self._foot = foot
        for bold in (False, True):
            self.add_font(FAMILY, "B" if bold else "", font_file(bold))
        self.set_title(title)
        self.set_creator("Rhodonite")
        self.set_lang("en")
        self.set_creation_date(at.astimezone())
        self.set_margins(22, 22, 22)
        self.set_auto_page_break(True, 22)
        self.add_page()

    def footer(self) -> None:
        """The line at the foot of each page."""
        self.set_y(-14)
        self.set_font(FAMILY, "", 8)
        self.set_text_color(*QUIET)
        self.cell(0, 5, self._foot)
        self.cell(0, 5, f"{self.page_no()} of {{nb}}", align="R")

    def fitting(self, text: str, width: float) -> str:
        """A text cut so that it has room in one line, in the font that is set.

        Args:
            width: millimetres.
        """
        room = width - 0.5
        if self.get_string_width(text) <= room:
            return text
        low, high = 0, len(text)
        while low < high:
            middle = (low + high + 1) // 2
            fits = self.get_string_width(text[:middle].rstrip() + "…") <= room
            low, high = (middle, high) if fits else (low, middle - 1)
        return text[:low].rstrip() + "…"

    def wrapped(self, text: str, width: float, most: int, size: float) -> list[str]:
        """A text broken between words into lines, the last of them cut where there would be more.

        Args:
            width: millimetres.
            most: lines.
            size: of the letters, in points.
        """
        self.set_font(FAMILY, "", size)
        room, space = width - 0.5, self.get_string_width(" ")
        lines: list[str] = []
        words = text.split()
        while words and len(lines) < most:
            count, filled = 0, -space
            while count < len(words) and (filled := filled + space + self.get_string_width(words[count])) <= room:
                count += 1
            if len(lines) == most - 1 or not count:  # the last line, or a word that is wider than all of it
                return [*lines, self.fitting(" ".join(words), width)]
            lines.append(" ".join(words[:count]))
            words = words[count:]
        return lines

    def line_of(
        self, x: float, y: float, width: float, text: str, size: float, colour: Colour = INK, *, bold: bool = False,
        align: str = "L",
    ) -> None:  # fmt: skip
        """One line of text, cut where it is longer than it has room.

        Args:
            x, y, width: millimetres.
            size: of the letters, in points.
        """
        if width <= 1:
            return
        self.set_font(FAMILY, "B" if bold else "", size)
        self.set_text_color(*colour)
        self.set_xy(x, y)
        self.cell(width, size * 0.45, self.fitting(text, width), align=align)

    def words(self, text: str, size: float, colour: Colour = INK, *, bold: bool = False) -> None:
        """A paragraph over the whole width.

        Args:
            size: of the letters, in points.
        """
        self.set_font(FAMILY, "B" if bold else "", size)
        self.set_text_color(*colour)
        self.multi_cell(0, size * 0.52, text, new_x="LMARGIN", new_y="NEXT")
