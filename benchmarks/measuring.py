"""Timing, and the table that is printed."""

import gc
import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass, field

ROUNDS = 5
SAVED_FOR_SECONDS = 8.0


HEADS = ("what", "figure", "limit", "ratio", "goal", "spread of the rounds")


@dataclass
class Table:
    """Rows of a figure, the limit it stands beside, their ratio with the goal, and how far the rounds
    lay apart.
    """

    rows: list[tuple[str, ...]] = field(default_factory=list)

    def add(
        self, what: str, figure: str, limit: str, ratio: float, goal: str, spread: str = ""
    ) -> None:
        self.rows.append((what, figure, limit, f"{ratio:.2f}", goal, spread))
        print(f"  {what}: {figure}; limit {limit}; ratio {ratio:.2f} (goal {goal})", flush=True)

    def say(self, what: str, figure: str) -> None:
        self.rows.append((what, figure, "", "", "", ""))
        print(f"  {what}: {figure}", flush=True)

    def print(self) -> None:
        print("\n".join(self.lines()))

    def lines(self) -> list[str]:
        """Return the table as it is printed, a line for each row."""
        widths = [max(map(len, column)) for column in zip(HEADS, *self.rows, strict=True)]
        return [
            "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip()
            for row in [HEADS, tuple("-" * width for width in widths), *self.rows]
        ]


def seconds(work: Callable[[], object]) -> float:
    """Time one call."""
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def in_turn(
    work: Callable[[], object], limit: Callable[[], object], rounds: int = ROUNDS
) -> tuple[float, float, str]:
    """Time both in turn, after one warm-up of each; return the median seconds of each, and in words
    how far their ratios lay apart and how much of a core the work had.
    """
    works, limits = [], []
    work(), limit()
    gc.collect()
    began = time.process_time()
    for _ in range(rounds):
        works.append(seconds(work))
        limits.append(seconds(limit))
    busy = (time.process_time() - began) / (sum(works) + sum(limits))
    ratios = [one / least for one, least in zip(works, limits, strict=True)]
    apart = (max(ratios) - min(ratios)) / 2 / statistics.median(ratios)
    spread = f"±{apart:.0%}, {busy:.0%} of a core"
    return statistics.median(works), statistics.median(limits), spread


def percentile(values: list[float], part: float) -> float:
    """Return the value below which a part of them lies."""
    return sorted(values)[min(len(values) - 1, round(part * len(values)))]


def milliseconds(value: float) -> str:
    return f"{value * 1000:.2f} ms"
