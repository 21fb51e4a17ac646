"""Timing, and the table that is printed."""

import gc
import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass, field

ROUNDS = 5


@dataclass
class Table:
    """Rows of a figure, the limit it stands beside, and their ratio with the goal."""

    rows: list[tuple[str, str, str, str, str]] = field(default_factory=list)

    def add(self, what: str, figure: str, limit: str, ratio: float, goal: str) -> None:
        self.rows.append((what, figure, limit, f"{ratio:.2f}", goal))
        print(f"  {what}: {figure}; limit {limit}; ratio {ratio:.2f} (goal {goal})", flush=True)

    def say(self, what: str, figure: str) -> None:
        self.rows.append((what, figure, "", "", ""))
        print(f"  {what}: {figure}", flush=True)

    def print(self) -> None:
        heads = ("what", "figure", "limit", "ratio", "goal")
        widths = [max(len(row[place]) for row in [heads, *self.rows]) for place in range(5)]
        for row in [heads, tuple("-" * width for width in widths), *self.rows]:
            print(
                "  ".join(
                    cell.ljust(width) for cell, width in zip(row, widths, strict=True)
                ).rstrip()
            )


def seconds(work: Callable[[], object]) -> float:
    """Time one call."""
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def in_turn(
    work: Callable[[], object], limit: Callable[[], object], rounds: int = ROUNDS
) -> tuple[float, float]:
    """Time both in turn, after one warm-up of each, and give the median seconds of each."""
    works, limits = [], []
    work(), limit()
    gc.collect()
    for _ in range(rounds):
        works.append(seconds(work))
        limits.append(seconds(limit))
    return statistics.median(works), statistics.median(limits)


def percentile(values: list[float], part: float) -> float:
    """Return the value below which a part of them lies."""
    return sorted(values)[min(len(values) - 1, round(part * len(values)))]


def milliseconds(value: float) -> str:
    return f"{value * 1000:.2f} ms"
