"""The two passes of the critical path method over a precedence network with working calendars.

Sources: J. E. Kelley and M. R. Walker, "Critical-path planning and scheduling", 1959, for the two passes and slack;
J. W. Fondahl, 1961, for the types of link. The passes run over integers: positions of working calendars, in which a
duration is added by one addition (see ``calendars.WorkingCalendar``). Only where two calendars meet, or time elapses,
is a position turned into a minute and back.

The two passes stand together here, and so are longer than other modules; what comes of them is in ``schedule.py``.
"""

from __future__ import annotations

from threading import Lock

from ..tasks.model import PINS
from .network import CLOSING, LEAF, OPENING, Network, PlanInput, PlanLink, PlanTask

FAR = 1 << 60

# Why a start is where it is: the number of a link, or one of these; what comes through the start of a summary task is
# THROUGH less its node.
PROJECT_START, STATUS_DAY, CONSTRAINT, PIN, BEGUN, LATE = -1, -2, -3, -4, -5, -6
THROUGH = -100


class Passes:
    """The two passes over a plan: early and late positions of the ends of every node, and what decided each start.

    Args:
        plan: what is to be scheduled.
        status: None for the plan; for the forecast the minute of the status day. Then finished tasks keep their
            actual dates, started ones have ``duration * (1 - percent)`` left, no unfinished work lies before the
            status day, and what is left still waits for its links (retained logic).

    Raises:
        RuleError: what ``Network`` refuses.
    """

    def __init__(self, plan: PlanInput | Network, status: int | None = None) -> None:
        self.base = plan if isinstance(plan, Network) else Network(plan)
        self.net = self.base  # or a copy, where links out of summary tasks follow the first of the tasks below
        self.plan = self.net.plan
        self.status = status
        self._project = self.plan.calendars[self.plan.calendar]
        count = len(self.net.role)
        self._early = [0] * (2 * count)  # positions on the node's calendar, by end
        self._late = [0] * (2 * count)  # what each end allows those before it: for most its own late date
        self._own_late: dict[int, int] = {}  # the late dates of those that allow others less, or more
        self._placed: dict[int, int] = {}  # ends that were put later than their early date
        self._cause: list[int] = []
        self._given: dict[int, int] = {}  # ends whose minute is no position: actual dates, and elapsed durations
        self._given_late: dict[int, int] = {}
        self._fixed: set[int] = set()
        self._started: set[int] = set()
        self._shrunk: set[int] = set()  # of whose work a part is done
        self._prepare()
        self._forward()
        self._follow_first_tasks()
        self._close()
        self._allowing, self._allowed = Lock(), False
        self._room: list[int] | None = None
        if any(self.net.tasks[self.net.task_of[n]].constraint == "alap" for n in self.net.particular):
            self._room = self._find_room()  # which places them, the last of a chain first

    # What each task brings along

    def _prepare(self) -> None:
        net, plan = self.net, self.plan
        count = len(net.role)
        start = plan.start if self.status is None else max(plan.start, self.status)
        self._by_status = self.status is not None and self.status > plan.start
        floors = {id(calendar): calendar.position(start) for calendar in plan.calendars.values()}
        if len(floors) == 1:
            self._floor = [floors.popitem()[1]] * count
        else:
            self._floor = [floors[id(calendar)] for calendar in net.calendars]
        self._cause = [STATUS_DAY if self._by_status else PROJECT_START] * count
        self._ceiling: dict[int, int] = {}
        self._work = net.work
        self._pins: dict[int, int] = {}
        early = plan.before_start and not self._by_status
        for n in net.particular:
            role, task = net.role[n], net.tasks[net.task_of[n]]
            if task.constraint == "start_no_earlier" and role == LEAF and task.deadline is None and not task.percent:
                if task.planned_start is None and task.actual_start is None and task.at is not None:  # by far the most
                    bound = net.calendars[n].position(task.at)
                    if bound > self._floor[n] or early:
                        self._floor[n], self._cause[n] = bound, CONSTRAINT
                    continue
            if role == CLOSING:
                self._floor[n] = -FAR
            if task.at is not None or task.deadline is not None:
                self._constrain(n, role, task)
            if role == LEAF:
                self._settle_progress(n, task)
        if early:
            self._open_early()
        self._special = self._pins.keys() | self._fixed | self._started
        self._special |= {n for n in net.particular if self._elapsed(n)}

    def _open_early(self) -> None:
        """Let summary tasks open as early as any task below them was set by hand."""
        for n, role in enumerate(self.net.role):
            if role == OPENING:
                nodes = self._nodes_below(self.net.task_of[n])
                first = min((self.net.calendars[m].minute(self._floor[m] | 1) for m in nodes), default=None)
                if first is not None:
                    self._floor[n] = min(self._floor[n], self.net.calendars[n].position(first))

    def _constrain(self, n: int, role: int, task: PlanTask) -> None:
        calendar, kind = self.net.calendars[n], task.constraint
        if task.at is not None and kind not in {"asap", "alap"}:
            on_start = kind in {"start_no_earlier", "start_no_later", "must_start"}
            bound = calendar.position(task.at)
            if role == LEAF and kind in PINS:
                self._pins[n] = self._opening(n, bound if on_start else self._back(n, task.at, bound))
            elif kind.endswith("no_later"):
                if role != (CLOSING if on_start else OPENING):
                    last = calendar.position_before(task.at)
                    self._lower(n, self._finish_of_last_start(n, task.at, last) if on_start else last)
            elif role == LEAF:
                bound = bound if on_start else self._back(n, task.at, bound)
                if bound > self._floor[n] or (self.plan.before_start and not self._by_status):
                    self._floor[n], self._cause[n] = bound, CONSTRAINT
            elif role == (OPENING if on_start else CLOSING) and bound > self._floor[n]:
                self._floor[n], self._cause[n] = bound, CONSTRAINT
        if task.deadline is not None and role != OPENING:
            self._lower(n, calendar.position_before(task.deadline))

    def _lower(self, n: int, position: int) -> None:
        self._ceiling[n] = min(self._ceiling.get(n, FAR), position)

    def _settle_progress(self, n: int, task: PlanTask) -> None:
        """In the plan a task that has begun stands where it stood; in the forecast its actual dates count."""
        if self.status is None:
            if task.planned_start is not None and task.planned_finish is not None:
                self._fix(n, task.planned_start, task.planned_finish)
            return
        finish = task.actual_finish
        if finish is not None:
            start = task.actual_start
            if start is None:
                start = self.net.calendars[n].add(finish, -(self.net.work[n] >> 1))
            self._fix(n, start, max(start, finish))
        elif task.actual_start is not None or task.percent:
            if self._work is self.net.work:
                self._work = list(self._work)
            self._shrunk.add(n)
            whole = self._work[n] >> 1
            self._work[n] = 2 * -(-whole * (100 - task.percent) // 100)  # rounded up to whole minutes
            calendar = self.net.calendars[n]
            self._floor[n], self._cause[n] = calendar.position(max(self.plan.start, self.status)), STATUS_DAY
            self._pins.pop(n, None)
            if task.actual_start is not None:
                self._started.add(n)
                self._given[2 * n] = task.actual_start

    def _fix(self, n: int, start: int, finish: int) -> None:
        calendar = self.net.calendars[n]
        self._fixed.add(n)
        self._early[2 * n], self._early[2 * n + 1] = calendar.position(start), calendar.position(finish)
        self._given[2 * n], self._given[2 * n + 1] = start, finish
        self._cause[n] = BEGUN

    # Positions and minutes

    def _elapsed(self, n: int) -> bool:
        return self.net.tasks[self.net.task_of[n]].elapsed and self.net.role[n] == LEAF

    def _opening(self, n: int, position: int) -> int:
        """Where a start may stand: the next working minute, save for a milestone that may close a day."""
        closes = self.net.role[n] != LEAF or (self.plan.milestones_close and not self.net.work[n])
        return position if closes else position | 1

    def _back(self, n: int, finish: int, position: int) -> int:
        """The start that belongs to a finish."""
        if self._elapsed(n):
            return self.net.calendars[n].position(finish - (self._work[n] >> 1))
        return position - self._work[n]

    def _minute(self, end: int) -> int:
        """The early minute of an end."""
        given = self._given.get(end)
        return self.net.calendars[end >> 1].minute(self._early[end]) if given is None else given

    def _link(self, number: int) -> PlanLink | None:
        return self.plan.links[number] if number < len(self.plan.links) else None

    def _lagged(self, minute: int, number: int) -> int:
        """The minute that a tie gives, from that of its first end."""
        link = self._link(number)
        if link is None:
            return minute
        return minute + link.lag if link.elapsed else self._project.add(minute, link.lag)

    def _lag_taken_off(self, minute: int, number: int) -> int:
        """The last minute of the first end of a tie by which it gives no more than a minute."""
        link = self._link(number)
        if link is None or not link.lag:
            return minute
        if link.elapsed:
            return minute - link.lag
        position = self._project.position_before(minute)
        # going forward a lead ends at an opening, a lag at a closing: what is allowed must not lie after the minute
        work = (position - 1 if link.lag < 0 else position) >> 1
        return self._project.minute(2 * (work - link.lag) + 1)

    # The forward pass: ES(j) is the latest that any link, the project start or a constraint allows

    def _forward(self) -> None:
        net, early, work, floors, causes = self.net, self._early, self._work, self._floor, self._cause
        before, before_slow, role, special = net.before, net.before_slow, net.role, self._special
        from_end, gives, links = net.from_end, self._gives(), len(self.plan.links)
        start_side = 0 if self.plan.milestones_close else 1
        for n in net.order:
            best, cause = floors[n], causes[n]
            for number in before[n]:
                bound = early[from_end[number]] + gives[number]
                if bound > best:
                    best, cause = bound, number
                elif bound == best and number < links:
                    cause = self._first_link(cause, number)
            if n in before_slow:
                best, cause = self._bounds_in_minutes(n, best, cause)
            causes[n] = cause if cause < links else THROUGH - (from_end[cause] >> 1)
            if n in special:
                self._place_special(n, best)
                continue
            minutes = work[n]
            if minutes:
                best |= 1
                early[2 * n + 1] = best + minutes - 1
            else:
                if role[n] == LEAF:
                    best |= start_side
                early[2 * n + 1] = best
            early[2 * n] = best

    def _follow_first_tasks(self) -> None:
        """What waits for the start of a summary task waits for the first of the tasks below it.

        The network ties it to the node of the start, which is only where they may begin. The dates are found, it is
        tied to the task that turns out to be first, and they are found again until nothing changes.
        """
        net = self.net
        numbers = [k for k, end in enumerate(net.from_end[: len(self.plan.links)]) if net.role[end >> 1] == OPENING]
        for _ in range(len(numbers) * 3):
            changed = False
            for number in numbers:
                first = self._first_below(net.ends[number][0])
                if (
                    first is not None
                    and net.from_end[number] != 2 * first
                    and self._minute(2 * first) > self._minute(net.from_end[number])
                ):
                    net = self.net = net.retied(number, first)
                    changed = True
            if not changed:
                return
            self._forward()

    def _nodes_below(self, index: int) -> list[int]:
        net, below = self.net, list(self.net.below[index])
        for i in below:  # it grows while it is read
            below += net.below[i]
        return [net.start_node[i] for i in below if not net.below[i] and net.role[net.start_node[i]] == LEAF]

    def _first_below(self, index: int) -> int | None:
        net, nodes = self.net, self._nodes_below(index)
        return min(nodes, key=lambda n: (self._minute(2 * n), net.tasks[net.task_of[n]].id), default=None)

    def _gives(self) -> list[int]:
        """As the network has it, but that of work begun only what is left counts back from a finish."""
        net, work = self.net, self._work
        if work is net.work:
            return net.gives
        gives = list(net.gives)
        for n in self._shrunk:
            for number in net.before[n]:
                if net.to_end[number] & 1:
                    gives[number] += net.work[n] - work[n]
        return gives

    def _allows(self) -> list[int]:
        """As the network has it, but that nobody waits for a start that is past, nor for work that is done."""
        if not self._shrunk:
            return self.net.allows
        allows = list(self.net.allows)
        for n in self._shrunk:
            for number in self.net.after[n]:
                if not self.net.from_end[number] & 1:
                    allows[number] = FAR if n in self._started else allows[number] + self._work[n] - self.net.work[n]
        return allows

    def _first_link(self, cause: int, number: int) -> int:
        """Of several that decide alike a link counts most, and of links the first by id: no order of lists matters."""
        links = self.plan.links
        if 0 <= cause < len(links):
            return min(cause, number, key=lambda one: (links[one].from_id, links[one].type, links[one].lag, links[one].elapsed))
        return number

    def _bounds_in_minutes(self, n: int, best: int, cause: int) -> tuple[int, int]:
        for number in self.net.before_slow[n]:
            bound = self._bound_in_minutes(n, number)
            if bound > best:
                best, cause = bound, number
            elif bound == best and number < len(self.plan.links):
                cause = self._first_link(cause, number)
        return best, cause

    def _bound_in_minutes(self, n: int, number: int) -> int:
        """The start of node n that a slow tie gives."""
        minute = self._lagged(self._minute(self.net.from_end[number]), number)
        bound = self.net.calendars[n].position(minute)
        return self._back(n, minute, bound) if self.net.to_end[number] & 1 else bound

    def _place_special(self, n: int, best: int) -> None:
        """Place what stands still against its links, lasts through nights, or has begun."""
        if n in self._fixed:
            self._cause[n] = BEGUN
            return
        pin = self._pins.get(n)
        if pin is not None:
            moved_on = self._by_status and pin < self._floor[n]  # no unfinished work lies before the status day
            best, self._cause[n] = (self._floor[n], STATUS_DAY) if moved_on else (pin, PIN)
        best = self._opening(n, best)
        self._early[2 * n] = best
        if self._elapsed(n):
            finish = self.net.calendars[n].minute(best) + (self._work[n] >> 1)
            self._early[2 * n + 1] = self.net.calendars[n].position(finish)
            self._given[2 * n + 1] = finish
        else:
            self._early[2 * n + 1] = best + self._work[n] - (1 if self._work[n] else 0)
        if n in self._started:  # what is left was placed; the start itself is a fact
            self._early[2 * n] = self.net.calendars[n].position(self._given[2 * n])

    def _close(self) -> None:
        """The finish of the project: the latest of all."""
        net, early, given = self.net, self._early, self._given
        project, latest, others = self._project, -FAR, []
        for n, role in enumerate(net.role):
            if role == LEAF:
                if net.calendars[n] is not project or (given and 2 * n + 1 in given):
                    others.append(self._minute(2 * n + 1))
                elif early[2 * n + 1] > latest:
                    latest = early[2 * n + 1]
        if latest > -FAR:
            others.append(project.minute(latest))
        self.finish = max(others, default=self.plan.start)

    # The backward pass: LF(i) is the earliest that any link, the project finish, a constraint or a deadline allows

    def _need_late(self) -> None:
        """Make the backward pass where nobody has asked for it yet: a forecast is often asked for its finish alone."""
        if not self._allowed:
            with self._allowing:
                if not self._allowed:
                    self._backward()
                    self._allowed = True

    def _backward(self) -> None:
        net, late, work = self.net, self._late, self._work
        after, after_slow, ceiling, special = net.after, net.after_slow, self._ceiling, self._special
        to_end, allows = net.to_end, self._allows()
        finishes = self._project_finish()
        for n in reversed(net.order):
            limit = finishes[n]
            for number in after[n]:
                bound = late[to_end[number]] + allows[number]
                if bound < limit:
                    limit = bound
            if ceiling and n in ceiling:
                limit = min(limit, ceiling[n])
            if n in after_slow:
                limit = self._limits_in_minutes(n, limit)
            minutes = work[n]
            if minutes:
                limit &= ~1
                late[2 * n] = limit - minutes + 1
            else:
                late[2 * n] = limit
            late[2 * n + 1] = limit
            if n in special:
                self._allow_special(n)

    def _project_finish(self) -> list[int]:
        calendars = {id(calendar): calendar.position_before(self.finish) for calendar in self.plan.calendars.values()}
        if len(calendars) == 1:
            return [calendars.popitem()[1]] * len(self.net.role)
        return [calendars[id(calendar)] for calendar in self.net.calendars]

    def _limits_in_minutes(self, n: int, limit: int) -> int:
        for number in self.net.after_slow[n]:
            to = self.net.to_end[number]
            if self._late[to] < FAR and not (n in self._started and not self.net.from_end[number] & 1):
                minute = self._given_late.get(to)
                if minute is None:
                    minute = self._last_minute(to, self._late[to])
                limit = min(limit, self._limit_in_minutes(n, number, minute))
        return limit

    def _last_minute(self, end: int, position: int) -> int:
        """The last minute that an end at a position satisfies: a finish at closing time holds until work opens again."""
        n = end >> 1
        holds = end & 1 and self.net.role[n] == LEAF and self._work[n]
        return self.net.calendars[n].minute(position | 1 if holds else position)

    def _limit_in_minutes(self, n: int, number: int, minute: int) -> int:
        """The finish of node n that a slow tie allows whose other end is at a minute."""
        minute = self._lag_taken_off(minute, number)
        position = self.net.calendars[n].position_before(minute)
        return position if self.net.from_end[number] & 1 else self._finish_of_last_start(n, minute, position)

    def _finish_of_last_start(self, n: int, minute: int, position: int) -> int:
        """The finish that belongs to the last start that is not after a minute. A start stands at an opening."""
        if self._elapsed(n):
            return self.net.calendars[n].position(minute + (self._work[n] >> 1))
        return position + self._work[n] - (1 if self._work[n] and not position & 1 else 0)

    def _allow_special(self, n: int) -> None:
        late, early = self._late, self._early
        if self._elapsed(n):
            calendar = self.net.calendars[n]
            finish = calendar.minute(late[2 * n + 1])
            late[2 * n] = calendar.position_before(finish - (self._work[n] >> 1))
            self._given_late[2 * n + 1] = finish
        self._own_late[2 * n], self._own_late[2 * n + 1] = late[2 * n], late[2 * n + 1]
        if n in self._fixed:
            late[2 * n] = late[2 * n + 1] = FAR
        elif n in self._pins:  # it will not wait, so those before it may not be later than it is
            late[2 * n] = min(late[2 * n], early[2 * n])
            late[2 * n + 1] = min(late[2 * n + 1], early[2 * n + 1])

    def _find_room(self) -> list[int]:
        """How late each node may finish before any other task moves. Summary tasks are no obstacle: they pass it on."""
        self._need_late()
        net, work, allows = self.net, self._work, self._allows()
        stand = list(self._early)
        for end, position in self._placed.items():
            stand[end] = position
        for n in self._fixed:
            stand[2 * n] = stand[2 * n + 1] = FAR
        for n in self._started:
            stand[2 * n] = self._early[2 * n + 1] - work[n]
        finishes, rooms = self._project_finish(), [0] * len(net.role)
        for n in reversed(net.order):
            room = FAR
            for number in net.after[n]:
                room = min(room, stand[net.to_end[number]] + allows[number])
            for number in net.after_slow.get(n, ()):
                to = net.to_end[number]
                if stand[to] < FAR:
                    given = self._given.get(to) if to not in self._placed else None
                    minute = self._last_minute(to, stand[to]) if given is None else given
                    room = min(room, self._limit_in_minutes(n, number, minute))
            rooms[n] = room = finishes[n] if room >= FAR // 2 else room
            if net.role[n] != LEAF:
                stand[2 * n] = stand[2 * n + 1] = room
            elif net.tasks[net.task_of[n]].constraint == "alap" and n not in self._special:
                self._put_late(n, room, stand)
        return rooms

    def _put_late(self, n: int, room: int, stand: list[int]) -> None:
        """At the end of its free slack, but not past what its own deadline or constraint allows."""
        early, late = self._early, self._late
        shift = 2 * min((room >> 1) - (early[2 * n + 1] >> 1), (late[2 * n + 1] >> 1) - (early[2 * n + 1] >> 1))
        if shift > 0 and 2 * n not in self._placed:
            self._cause[n] = LATE
            for end in (2 * n, 2 * n + 1):
                self._placed[end] = stand[end] = early[end] + shift
