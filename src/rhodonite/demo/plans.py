"""The demo's people and plans, as text.

Each line of a plan: ``title | owner | start | days | done | more``. Indentation nests. Start is in working days from
today; done is a percentage or ``done``; more is any of ``with XX``, ``must`` (or another priority), ``deadline N``,
``held N: reason``, ``pushed N``, ``state NAME``, ``milestone``, ``defect``, ``risk``, ``request``, ``effort N``, ``waits
LINK`` (then its links find its dates, unless ``hand`` keeps the start), ``pin``, ``longer N`` (days found out after the plan was agreed), ``by
CALENDAR``, with commas between.
"""

from __future__ import annotations

from dataclasses import dataclass, field

ORGANISATION = "Corvane Coast Trust"

# initials, name, title, role in the organisation
PEOPLE = (
    ("IN", "Ines Oduya", "Project manager", "manager"),
    ("TB", "Tomas Brekke", "Glazing crew, foreman", "member"),
    ("PN", "Priya Nandakumar", "Glazing crew, buyer", "member"),
    ("CR", "Callum Reyes", "Glazing crew, founder", "member"),
    ("YH", "Yuki Hartmann", "Site photographer", "member"),
    ("NC", "Noor Castellan", "Lens crew, optician", "member"),
    ("ZM", "Zoltan Mbeki", "Masonry crew, foreman", "member"),
    ("AL", "Aroha Lindqvist", "Field crew, ecologist", "member"),
    ("DO", "Dmitri Okafor", "Field crew, ranger", "member"),
    ("SV", "Saoirse Valdez", "Exhibits, curator", "member"),
    ("LT", "Lucia Tamaki", "Exhibits, model maker", "member"),
    ("HK", "Hamid Kowalczyk", "Software, lead", "member"),
    ("BE", "Beatrix Eze", "Site office, administrator", "administrator"),
    ("MF", "Mila Farouk", "City office, heritage reviewer", "guest"),
)


@dataclass(frozen=True, slots=True)
class DemoProject:
    """One project of the demo: who leads it, when it began (calendar days before today), its workflow and plan."""

    code: str
    name: str
    description: str
    lead: str
    began: int
    members: dict[str, str]
    plan: str
    states: tuple[tuple[str, str, int | None], ...] = ()
    private: bool = False
    agreed: str | None = None
    calendars: dict[str, dict[str, list[list[str]]]] = field(default_factory=dict)
    draft: tuple[str, str, dict[str, str]] | None = None
    """Its name, the task that it changes, and how."""


LANTERN = """
Survey and consents | IN
  Measure glazing bars | TB | -24 | 3 | done | effort 24
  Laser survey of the gallery | TB | -21 | 4 | done | with YH, effort 30
  Heritage consent, city office | IN | -14 | 11 | 60 | must, pushed 2, deadline 2, with MF, effort 20
  Paint analysis of the dome | - | 3 | 4 | 0 | should, effort 16
Glazing | PN
  Order curved panes | PN | -18 | 2 | done | effort 6
  Cast replacement bars | CR | -6 | 9 | 45 | must, held 3: foundry sand, state On the bench, effort 52
  Bend copper flashing | TB | -7 | 6 | 70 | state On the bench, should, effort 20
  Mix putty samples | YH | -2 | 3 | 40 | state On the bench, could, effort 8
  Fit bars and dry-run panes | CR | 5 | 4 | 0 | must, with TB, effort 36, waits Cast replacement bars + 2 d
  Photograph each stage | YH | -7 | 13 | 30 | state On the tower, could, effort 12
  Seal and pressure-test panes | TB | 9 | 3 | 0 | must, effort 24, waits Fit bars
  Glazing signed off | IN | 13 | 0 | 0 | milestone, waits Seal and
Lens and drive | NC
  Crane certificate | IN | -3 | 5 | 80 | state Inspection, must, effort 6
  Lift the lens to the workshop | NC | 3 | 3 | 0 | must, with ZM, effort 30, waits Crane certificate + 1 d
  Clean and regrind prisms | NC | 6 | 12 | 0 | must, effort 90, waits Lift the lens
  Mark out the drive bed | PN | -4 | 6 | 55 | state On the tower, should, effort 16
  Rewire the drive motor | PN | 8 | 8 | 0 | should, effort 40, hand, waits Mark out the drive bed
  Refit the lens | TB | 19 | 5 | 0 | must, with NC, effort 44, waits Clean and regrind, waits Glazing signed off
  First lighting test | IN | 24 | 2 | 0 | must, effort 12, waits Refit the lens, waits Rewire the drive motor
  Lens relit | IN | 26 | 0 | 0 | milestone, must, waits First lighting test
Gallery and rail | TB
  Scaffold the gallery | TB | 12 | 5 | 0 | must, with ZM, effort 48, pin
  Take down corroded posts | ZM | 17 | 4 | 0 | should, effort 28, waits Scaffold the gallery
  Forge new posts | CR | 14 | 9 | 0 | should, effort 64, longer 4
  Replace corroded posts | TB | 23 | 8 | 0 | must, effort 60, waits Take down corroded, waits Forge new posts
  Paint rail and brackets | - | 31 | 6 | 0 | could, effort 36, waits Replace corroded posts
  Rail load test | ZM | 37 | 1 | 0 | must, effort 8, waits Paint rail + 1 d
Stair and tower | ZM
  Repoint the stair wall | ZM | -16 | 8 | done | effort 56
  Renew stair nosings | ZM | -9 | 7 | done | effort 40
  Replace storm shutter latch | PN | -5 | 1 | done | defect, must, effort 4
  Stop the gallery leak | TB | -2 | 3 | 70 | defect, must, state On the tower, effort 14
  Limewash the tower room | - | 18 | 5 | 0 | could, effort 30
  Lightning conductor inspection | PN | 10 | 1 | 0 | must, effort 4
Handing over | IN
  Keeper's handbook | YH | 20 | 10 | 0 | should, effort 32
  Train the volunteer keepers | IN | 33 | 4 | 0 | should, effort 24, waits Keeper's handbook, waits Lens relit
  Snag list walk | IN | 39 | 2 | 0 | must, effort 10, waits Rail load test, waits Train the volunteer
  Restoration accepted | IN | 43 | 0 | 0 | milestone, must, deadline 44, waits Snag list walk + 3 d
Bad weather stops tower work | ZM | - | - | 0 | risk
"""

TIDE_MILL = """
Shell and services | ZM
  Underpin the wheel pit | ZM | -30 | 12 | done
  Damp course, east wall | ZM | -18 | 9 | done
  Run cables to the loft | PN | -8 | 6 | 65
  Heat pump trench | - | 2 | 4 | 0 | must
  Survey the sluice gate | DO | -1 | 2 | 20
Visitor rooms | SV
  Agree the ticket desk layout | SV | -12 | 4 | done | must
  Oak floor, ground storey | LT | 4 | 8 | 0 | should
  Hoist for the upper floor | PN | 9 | 6 | 0 | must, deadline 12, waits Oak floor
  Wayfinding signs | LT | -3 | 6 | 35
  Answer the millwright's questions | IN | -2 | 2 | 10 | must, pushed 1
Wheel and works | CR
  Lift the sluice boards | ZM | -5 | 3 | done
  Turn new paddle pegs | CR | 6 | 5 | 0
  Balance the wheel | CR | 12 | 3 | 0 | should, waits Turn new paddle pegs, by Low tide
  First grinding | SV | 20 | 1 | 0 | hand, waits Balance the wheel
  Mill opens to visitors | SV | 28 | 0 | 0 | milestone, must, hand, waits First grinding, waits Hoist for the upper floor
Flood closes the yard | ZM | - | - | 0 | risk
"""

SEABIRD = """
Before the season | AL
  Roster for the first survey fortnight | IN | -3 | 5 | 60 | must
  Rope and harness check | DO | -9 | 2 | done | must
  Renew the cliff permits | AL | -6 | 4 | 90 | must, pushed 1
  Calibrate counting scopes | AL | -2 | 3 | 30
  Volunteer briefing | DO | 2 | 1 | 0 | must, waits Roster for
Counts | AL
  First whole-colony count | AL | 6 | 5 | 0 | must, with DO, waits Volunteer briefing + 2 d, waits Rope and harness
  Ledge photographs, north face | YH | 7 | 4 | 0 | waits start with First whole-colony + 1 d
  Burrow transects | DO | 11 | 6 | 0 | should, waits First whole-colony count
  Second whole-colony count | AL | 26 | 5 | 0 | must, with DO, hand, waits First whole-colony count
  Ringing fortnight | - | 33 | 10 | 0 | could
After the season | AL
  Enter and check the counts | AL | 45 | 6 | 0 | must, hand, waits Second whole-colony count
  Season report to the reserve board | AL | 52 | 5 | 0 | must, waits Enter and check
  Counts published | AL | 58 | 0 | 0 | milestone, waits Season report
Boat unavailable in June | DO | - | - | 0 | risk
"""

FOSSIL = """
Story and texts | SV
  Choose the twelve specimens | SV | -25 | 6 | done
  Write case texts | SV | -15 | 10 | 75 | must
  Translate case texts | - | -1 | 5 | 0 | should
  Large-print guide | LT | 10 | 5 | 0 | should
Cases and mounts | LT
  Prototype folding case | LT | -14 | 8 | done
  Test the case on the van | LT | -5 | 3 | done
  Build six folding cases | LT | -1 | 15 | 15 | must
  Mount the ammonite | CR | 6 | 3 | 0
  Cast the handling set | LT | 8 | 6 | 0
Tour | SV
  Book the first four schools | SV | -4 | 6 | 50 | must
  Insure the loans | BE | -6 | 4 | 40 | must, held 2: a valuer's signature
  Load plan for the van | DO | 16 | 2 | 0 | waits Build six folding cases + 1 d
  First school visit | SV | 22 | 1 | 0 | milestone, must, waits Load plan for the van, hand
"""

KIOSK = """
Buying a ticket | HK
  Price list by date and age | HK | -20 | 5 | done | must, effort 30
  Seat map of the ferry deck | HK | -14 | 8 | done | effort 48
  Pay by card | HK | -6 | 6 | 80 | must, state In review, effort 36
  Print at the gate | HK | -1 | 5 | 20 | must, effort 24
  Refund before sailing | HK | 4 | 4 | 0 | should, effort 20
  Check kiosk refund wording | IN | 5 | 1 | 0 | effort 1
Running it | HK
  Restart after power loss | HK | -4 | 3 | 50 | must, effort 18
  Nightly figures to the site office | BE | 8 | 3 | 0 | should, effort 12
  Screen reader walk-through | YH | 10 | 2 | 0 | must, effort 8
Faults found on the pier | HK
  Touch screen misses wet fingers | HK | -3 | 3 | 30 | defect, must, effort 10
  Receipt cuts off the last line | HK | -8 | 1 | done | defect, effort 3
  Clock shows winter time | - | 1 | 1 | 0 | defect, could, effort 2
  Gate opens twice for one ticket | HK | -1 | 2 | 0 | defect, must, held 1: spare gate motor, effort 8
Asked for by visitors | -
  Buy for a whole class | - | - | - | 0 | request, could
  Ticket in Welsh and Breton | SV | - | - | 0 | request, should
Kiosk goes live | HK | 18 | 0 | 0 | milestone, must, deadline 15
"""

OPENING = """
Programme | IN
  Fix the opening date | IN | -10 | 2 | done | must
  Invite the keepers' families | YH | 3 | 4 | 0
  Brass band and stage | - | 12 | 3 | 0 | should
  Running order | IN | 24 | 3 | 0 | must
People and safety | BE
  Stewards' roster | DO | 14 | 4 | 0 | must
  First-aid cover | BE | -3 | 2 | 50 | must
  Shuttle boats from the harbour | DO | 5 | 5 | 0 | should
  Crowd plan approved | BE | 20 | 1 | 0 | must
Opening weekend | IN | 40 | 0 | 0 | milestone, must
"""

PROJECTS = (
    DemoProject(
        "LAN", "Lantern Room Restoration", "Restore the lantern room of Corvane Head light: glazing, lens, drive, gallery.",
        "IN", 44, {"TB": "contributor", "PN": "contributor", "CR": "contributor", "YH": "contributor", "NC": "contributor",
                   "ZM": "contributor", "MF": "commenter"},
        LANTERN,
        agreed="Signed by the trustees",
        states=(("Ready", "queued", None), ("On the bench", "active", 3), ("On the tower", "active", 4), ("Inspection", "active", 2),
         ("Finished", "finished", None), ("Dropped", "dropped", None)),
        draft=("A second bench for the lens", "Clean and regrind prisms", {"duration": "7 d"}),
    ),
    DemoProject(
        "MIL", "Tide Mill Visitor Wing", "Turn the store house of the tide mill into rooms for visitors.",
        "ZM", 50, {"SV": "contributor", "LT": "contributor", "PN": "contributor", "CR": "contributor", "DO": "contributor",
                   "IN": "lead", "TB": "contributor"},
        TIDE_MILL,
        calendars={"Low tide": {day: [["06:00", "10:30"]] for day in ("mon", "tue", "wed", "thu", "fri", "sat")}},
    ),
    DemoProject(
        "SEA", "Seabird Survey Season", "Count, ring and report the colonies of Corvane cliffs.",
        "AL", 20, {"DO": "contributor", "YH": "contributor", "IN": "contributor", "TB": "viewer"},
        SEABIRD, agreed="Season plan 2027",
    ),
    DemoProject(
        "FOS", "Travelling Fossil Rooms", "Two rooms of fossils that fold into a van and visit schools.",
        "SV", 40, {"LT": "contributor", "CR": "contributor", "DO": "contributor", "BE": "contributor"},
        FOSSIL,
    ),
    DemoProject(
        "KIO", "Pier Ticket Kiosk software", "Tickets for ferry and pier, sold by a machine that stands in the rain.",
        "HK", 35, {"IN": "contributor", "BE": "contributor", "YH": "contributor", "SV": "contributor", "TB": "commenter"},
        KIOSK,
    ),
    DemoProject(
        "OPN", "Opening Weekend", "Everybody comes: the light is lit again.",
        "IN", 15, {"YH": "contributor", "DO": "contributor", "BE": "contributor"},
        OPENING, private=True,
    ),
)  # fmt: skip
