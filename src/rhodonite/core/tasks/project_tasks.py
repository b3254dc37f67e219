"""What the rules of tasks need to know of the others in their project. The plan, which is computed from them, has it all."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Protocol

from ..common.calendars import WorkingCalendar
from .model import Project, Task
from .outline import Outline


class ProjectTasks(Protocol):
    """The tasks of a project with its calendar.

    Attributes:
        tasks: all by id, those in the bin included.
        rows: the ids of those that are not in the bin.
    """

    @property
    def project(self) -> Project: ...

    @property
    def calendar(self) -> WorkingCalendar: ...

    @property
    def tasks(self) -> Mapping[str, Task]: ...

    @property
    def rows(self) -> Collection[str]: ...

    @property
    def outline(self) -> Outline: ...
