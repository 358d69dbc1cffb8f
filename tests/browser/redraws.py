"""How many components of the page are drawn anew, counted by React's own report of each commit."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

# React tells whoever stands under this name of every commit, as it tells its developer tools. A component was called
# where its PerformedWork flag (1) is set; what hangs below a component that was passed over is the same object as before.
HOOK = """
window.redraws = { commits: [], at: 0 };
const CALLED = new Set([0, 1, 11, 14, 15]);
const called = (fiber) => {
    let count = 0;
    const places = {};
    const visit = (node, within) => {
        // A row of the schedule, or a part of the page that has a name.
        const place = node.tag === 5 && (node.stateNode.dataset?.row ?? (node.type === "section" &&
            node.stateNode.getAttribute("aria-label"))) || within;
        if (CALLED.has(node.tag) && node.flags & 1) {
            count += 1;
            places[place] = (places[place] ?? 0) + 1;
        }
        if (node.alternate && node.child === node.alternate.child) return;
        for (let child = node.child; child; child = child.sibling) visit(child, place);
    };
    visit(fiber, "page");
    return { count, places };
};
window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
    supportsFiber: true, renderers: new Map(),
    inject() { return ++window.redraws.at; },
    onCommitFiberRoot(renderer, root) {
        const { count, places } = called(root.current);
        if (count) window.redraws.commits.push({ count, places });
    },
    onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
};
"""


@dataclass(frozen=True)
class Redraws:
    """What was drawn anew between two looks. each: components of each commit, in order. places: how many where."""

    each: tuple[int, ...]
    places: dict[str, int]

    @property
    def total(self) -> int:
        """Components drawn anew, all commits together."""
        return sum(self.each)

    @property
    def most(self) -> int:
        """Components of the largest commit."""
        return max(self.each, default=0)


def watch(driver: Any) -> str:
    """Counts on every page that is opened from now on; the name by which to stop (`unwatch`)."""
    added = driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": HOOK})
    return str(added["identifier"])


def unwatch(driver: Any, name: str) -> None:
    """Pages that are opened from now on are not counted."""
    driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", {"identifier": name})


def taken(driver: Any) -> Redraws:
    """What was drawn anew since the last call."""
    commits = driver.execute_script("const own = redraws.commits; redraws.commits = []; return own")
    places: Counter[str] = Counter()
    for commit in commits:
        places.update(commit["places"])
    return Redraws(tuple(int(commit["count"]) for commit in commits), dict(places))
