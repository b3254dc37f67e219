"""What the demo's people wrote: descriptions, comments, checklists, files and relations, by project and task.

Texts are HTML. ``{XX}`` names the person with these initials, ``#Title#`` the task that is called so.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from io import BytesIO

from PIL import Image, ImageDraw


@dataclass(frozen=True, slots=True)
class Comment:
    """Something said: so many working days ago at a time of day, by whom; ``answers`` counts back to the one it answers."""

    ago: int
    at: str
    who: str
    body: str
    answers: int = 0
    reactions: tuple[tuple[str, str], ...] = ()
    resolved_by: str | None = None


@dataclass(frozen=True, slots=True)
class Talk:
    """All that hangs on one task. A line of a checklist that begins with ``x`` is ticked."""

    project: str
    task: str
    description: str = ""
    comments: tuple[Comment, ...] = ()
    checklists: tuple[tuple[str, tuple[str, ...]], ...] = ()
    files: tuple[tuple[str, str], ...] = ()
    related: tuple[tuple[str, str], ...] = ()
    follows: tuple[str, ...] = ()
    held_by: str | None = None
    repeats: str | None = None
    keep: bool = field(default=False)
    """True where the project keeps its first checklist for loading."""


TALK = (
    Talk(
        "LAN",
        "Cast replacement bars",
        "<p>Twelve curved glazing bars in gunmetal, cast from the one sound original. The heritage office wants the old"
        " profile, not the one of 1931.</p><h3>How it can be seen to be finished</h3><ul><li><p>Twelve bars, cooled and"
        " fettled, each within 0.4 mm of the template</p></li><li><p>One test bar broken and its grain photographed</p></li></ul>"
        "<table><tbody><tr><th><p>Bar</p></th><th><p>Length</p></th><th><p>Curve</p></th></tr><tr><td><p>1 to 8</p></td>"
        "<td><p>1,182 mm</p></td><td><p>R 1,540</p></td></tr><tr><td><p>9 to 12</p></td><td><p>1,096 mm</p></td>"
        "<td><p>R 1,540</p></td></tr></tbody></table>",
        (
            Comment(5, "10:12", "CR", "<p>Pattern is back from the heritage office with a stamp. I pour the test bar on Thursday.</p>",
                    reactions=(("agree", "IN"), ("thanks", "TB"))),
            Comment(3, "11:40", "CR", "<p>The foundry has run out of <strong>green sand</strong>. Nothing before the boat comes.</p>"),
            Comment(2, "09:05", "IN", "<p>How long does that hold us? #Fit bars and dry-run panes# hangs on it.</p>", answers=1),
            Comment(0, "08:51", "TB", "<p>Sand comes Thursday. {IN}, can the crane wait a day?</p>", reactions=(("seen", "CR"),)),
        ),
        (("Foundry", ("x Pattern agreed with the heritage office", "x Test bar poured", "Sand delivered",
                      "Twelve bars poured and cooled")),),
        (("Bar profile.png", "drawing"), ("Foundry order.txt", "order")),
        (("origin", "Measure glazing bars"),),
        ("NC",),
        keep=True,
    ),
    Talk(
        "LAN",
        "Heritage consent, city office",
        "<p>The city office decides on the new vents and on the colour of the dome.</p>",
        (
            Comment(4, "14:20", "MF", "<p>The panel asks for one more sample of the dome paint before it meets.</p>"),
            Comment(4, "15:02", "IN", "<p>{YH}, could you photograph the layers where the flashing is off?</p>", answers=1),
            Comment(3, "10:31", "YH", "<p>Done, in the folder of the survey.</p>", answers=1, reactions=(("thanks", "IN"),), resolved_by="IN"),
        ),
        (("Papers for the panel", ("x Drawing of the vents", "x Photographs of the layers", "Paint sample, dome", "Letter of the harbour master")),),
        follows=("NC",),
    ),
    Talk(
        "LAN",
        "Crane certificate",
        "<p>The harbour crane may lift 900 kg over the gallery once the inspector has signed.</p>",
        (Comment(1, "16:05", "NC", "<p>The inspector comes on Friday at eight. The wind must be below 5.</p>", reactions=(("seen", "ZM"),)),),
    ),
    Talk("LAN", "Stop the gallery leak", comments=(
        Comment(1, "13:44", "TB", "<p>It comes in at post 7, not at the door. {ZM}, please look at the pointing there.</p>"),
    )),
    Talk("LAN", "Rewire the drive motor", held_by="Mark out the drive bed"),
    Talk(
        "LAN",
        "First lighting test",
        checklists=(("Before the lamp is lit", ("Visitors off the gallery", "Fire watch on the stair", "Harbour office told", "Eye shields handed out")),),
    ),
    Talk(
        "KIO",
        "Gate opens twice for one ticket",
        "<p>Seen three times on a wet morning. The second pulse comes 400 ms after the first.</p><pre><code>08:14:02.118 gate open"
        " ticket 4411\n08:14:02.522 gate open ticket 4411</code></pre>",
        (
            Comment(1, "09:20", "HK", "<p>The relay bounces when it is cold. I need a spare motor to try it on the bench.</p>"),
            Comment(0, "09:02", "IN", "<p>{BE}, is there one in the store of the site office?</p>"),
        ),
        related=(("related", "Print at the gate"),),
    ),
    Talk(
        "KIO",
        "Pay by card",
        checklists=(("Ready for review", ("x Refused card says why", "x Works without a receipt", "Works when the line is down", "Amount read aloud")),),
        keep=True,
    ),
    Talk("MIL", "Answer the millwright's questions", comments=(
        Comment(2, "10:10", "CR", "<p>{IN}, he asks again whether the sluice boards stay in oak. Without an answer he saws nothing.</p>"),
    )),
    Talk("SEA", "Calibrate counting scopes", repeats="every second Monday, 8 times"),
    Talk("SEA", "Roster for the first survey fortnight", comments=(
        Comment(1, "17:20", "AL", "<p>{DO} has the boat on Monday only. {IN}, please move the north face.</p>"),
    )),
)  # fmt: skip


ORDER = """Foundry order 27-031

12 bars, gunmetal LG2, pattern CH-7
 2 bars for tests, same heat
Sand: green sand, fine, 400 kg
Wanted on the quay by Thursday's boat.
"""


def drawing() -> bytes:
    """A made-up drawing of a glazing bar's profile, as PNG."""
    image = Image.new("RGB", (640, 420), "#fbfafb")
    pen = ImageDraw.Draw(image)
    for x in range(0, 640, 20):
        pen.line((x, 0, x, 420), fill="#eee9ed")
    for y in range(0, 420, 20):
        pen.line((0, y, 640, y), fill="#eee9ed")
    profile = [
        (200, 340),
        (200, 300),
        (280, 280),
        (280, 120),
        (300, 80),
        (340, 80),
        (360, 120),
        (360, 280),
        (440, 300),
        (440, 340),
    ]
    pen.polygon(profile, fill="#dcd3db", outline="#231a24", width=3)
    pen.line((200, 370, 440, 370), fill="#b23a63", width=2)
    pen.line((200, 360, 200, 380), fill="#b23a63", width=2)
    pen.line((440, 360, 440, 380), fill="#b23a63", width=2)
    pen.text((300, 376), "24 mm", fill="#b23a63")
    pen.text((24, 24), "Bar CH-7, section at mid length, 10 : 1", fill="#231a24")
    out = BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
