"""One budget for all that a process keeps, and a collage of many files that are not opened again at each frame."""

import threading

import av
import numpy as np

from glowreel.core.layout import Box
from glowreel.core.recipe.model import DrawPicture, FrameRecipe
from glowreel.engine.draw import Canvas
from glowreel.engine.memory import MEGABYTE, Budget, Cache
from glowreel.engine.sources import Sources
from tests.conftest import Files, Folder


def test_caches_share_a_budget_and_what_was_used_longest_ago_goes_first() -> None:
    budget = Budget(100)
    first, second = Cache[str](budget), Cache[str](budget)
    first.put("a", "A", 40)
    second.put("b", "B", 40)
    assert first.get("a") == "A"
    second.put("c", "C", 40)
    assert (first.get("a"), second.get("b"), second.get("c")) == ("A", None, "C")
    assert budget.used == 80
    second.put("c", "C", 10)
    assert budget.used == 50, "a size that changed counts once"
    first.put("huge", "H", 500)
    assert (first.get("huge"), len(second), budget.used) == ("H", 0, 500), "the newest stays, however large"
    first.clear()
    assert budget.used == 0


def test_threads_may_use_one_budget_at_once() -> None:
    budget = Budget(1000)
    caches = [Cache[int](budget) for _ in range(4)]

    def work(cache: Cache[int]) -> None:
        for n in range(2000):
            cache.put(n % 37, n, 10 + n % 50)
            cache.get(n % 11)

    threads = [threading.Thread(target=work, args=(cache,)) for cache in caches]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert 0 < budget.used <= 1000
    for cache in caches:
        cache.clear()
    assert budget.used == 0


def test_thirteen_files_in_one_frame_are_opened_once(files: Files, library: Folder, monkeypatch) -> None:
    colours = [(10 * n, 200 - 10 * n, 90) for n in range(13)]
    media = [library.add(files.footage(f"{n}.mp4", lambda _, c=c: c, frames=12)) for n, c in enumerate(colours)]
    opened = []
    really = av.open
    monkeypatch.setattr(av, "open", lambda path, *rest, **more: opened.append(path) or really(path, *rest, **more))
    sources = Sources(library, budget=Budget(256 * MEGABYTE))
    canvas = Canvas(sources, 640, 360)
    for frame in range(6):
        ops = tuple(
            DrawPicture(m.hash, False, frame * 23_520_000, Box(140 * (n % 13), 200, 130, 90))
            for n, m in enumerate(media)
        )
        pixels = canvas.draw(FrameRecipe(1920, 1080, ops))
    assert len(opened) == 13
    middles = [pixels[(200 + 45) // 3, (140 * n + 65) // 3, :3][::-1].astype(int) for n in range(13)]
    assert np.abs(np.array(middles) - np.array(colours)).max() <= 6
    sources.close()
