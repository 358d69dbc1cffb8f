"""What each test costs: its processor time, with that of every process that it begins, is told at the end.

A pytest plugin; `make check` chooses by what is kept of it in pytest's cache.
"""

from __future__ import annotations

import contextlib
import os
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

TOLD_S = 20.0
"""Above this a test is listed."""

KEPT = "pivrel/seconds"
TICKS = os.sysconf("SC_CLK_TCK")
PROPERTY = "processor_s"


def spent() -> float:
    """Seconds of processor time of this process and of all below it, those that ended with them."""
    total, todo = 0.0, [str(os.getpid())]
    while todo:
        process = Path("/proc") / todo.pop()
        with contextlib.suppress(OSError):
            # The second field is a name in brackets, which may hold anything.
            fields = (process / "stat").read_text().rpartition(")")[2].split()
            total += sum(map(int, fields[11:15])) / TICKS
            for thread in (process / "task").iterdir():
                with contextlib.suppress(OSError):
                    todo += (thread / "children").read_text().split()
    return total


class Costs:
    """Measured where a test runs, told where all of them are reported."""

    def __init__(self, config: pytest.Config) -> None:
        self.config = config
        self.by_test: dict[str, float] = {}
        self.begun = 0.0

    @pytest.hookimpl(wrapper=True, tryfirst=True)
    def pytest_runtest_setup(self) -> Iterator[Any]:
        self.begun = spent()
        return (yield)

    @pytest.hookimpl(wrapper=True, tryfirst=True)
    def pytest_runtest_teardown(self, item: pytest.Item) -> Iterator[Any]:
        done = yield
        # A process that was not begun here takes its time with it when it ends.
        item.user_properties.append((PROPERTY, round(max(spent() - self.begun, 0.0), 2)))
        return done

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        if report.when == "teardown":
            for name, value in report.user_properties:
                if name == PROPERTY and isinstance(value, float):
                    self.by_test[report.nodeid] = value

    def pytest_terminal_summary(self, terminalreporter: pytest.TerminalReporter) -> None:
        if not self.by_test:
            return
        total = sum(self.by_test.values())
        terminalreporter.section(f"{total:.0f} s of processor time")
        by_folder: dict[str, float] = defaultdict(float)
        for test, seconds in self.by_test.items():
            path = Path(test.split("::")[0])
            by_folder["/".join(path.parts[:2])] += seconds
        for folder, seconds in sorted(by_folder.items(), key=lambda pair: -pair[1]):
            if seconds >= 1:
                terminalreporter.write_line(f"{seconds:6.0f} s  {folder}")
        for test, seconds in sorted(self.by_test.items(), key=lambda pair: -pair[1]):
            if seconds > TOLD_S:
                terminalreporter.write_line(f"over {TOLD_S:.0f} s: {seconds:.0f} s  {test}")

    def pytest_sessionfinish(self) -> None:
        cache = getattr(self.config, "cache", None)
        if cache is not None and self.by_test and not hasattr(self.config, "workerinput"):
            cache.set(KEPT, {**(cache.get(KEPT, None) or {}), **self.by_test})


def pytest_configure(config: pytest.Config) -> None:
    config.pluginmanager.register(Costs(config), "costs")
