"""How smooth the timeline is with 500 items: frames a second in the browser as it is dragged, zoomed, scrolled."""

from __future__ import annotations

import time
from collections.abc import Callable

from selenium import webdriver

COUNT = """
window.glowFrames = []; window.glowGo = true;
function next(now) { window.glowFrames.push(now); if (window.glowGo) requestAnimationFrame(next); }
requestAnimationFrame(next);
"""


def mouse(driver: webdriver.Chrome, kind: str, x: float, y: float, **more: object) -> None:
    event = {"type": kind, "x": x, "y": y, "button": "left" if kind != "mouseWheel" else "none", **more}
    driver.execute_cdp_cmd("Input.dispatchMouseEvent", event)


def frames_during(driver: webdriver.Chrome, work: Callable[[], None]) -> tuple[float, float]:
    """Mean frames a second while something is done, and the longest gap between two in milliseconds."""
    driver.execute_script(COUNT)
    work()
    at = driver.execute_script("window.glowGo = false; return window.glowFrames")
    gaps = [b - a for a, b in zip(at, at[1:], strict=False)]
    return 1000 * len(gaps) / max(1e-6, sum(gaps)), max(gaps)


def gestures(driver: webdriver.Chrome, seconds: float = 4) -> dict[str, tuple[float, float]]:
    """Dragging a clip, zooming with the wheel and scrolling, in the editor that is open."""
    box = driver.execute_script(
        "const all = [...document.querySelectorAll('.tl-main .item')]; const b = all[Math.floor(all.length / 2)]"
        ".getBoundingClientRect(); return [b.left + b.width / 2, b.top + b.height / 2]"
    )
    x, y = box

    def steps() -> range:
        return range(int(seconds * 60))

    def drag() -> None:
        mouse(driver, "mousePressed", x, y, clickCount=1)
        end = time.perf_counter() + seconds
        for n in steps():
            mouse(driver, "mouseMoved", x + 4 + (n * 3) % 300, y, buttons=1)
            if time.perf_counter() > end:
                break
        driver.execute_cdp_cmd("Input.dispatchKeyEvent", {"type": "keyDown", "key": "Escape", "code": "Escape"})
        mouse(driver, "mouseReleased", x, y, clickCount=1)

    def zoom() -> None:
        end = time.perf_counter() + seconds
        for n in steps():
            way = -30 if (n // 40) % 2 == 0 else 30
            mouse(driver, "mouseWheel", x, y, deltaX=0, deltaY=way, modifiers=2)
            if time.perf_counter() > end:
                break

    def scroll() -> None:
        end = time.perf_counter() + seconds
        for n in steps():
            driver.execute_script(
                "document.getElementById('tl-scroll').scrollLeft += arguments[0]", 25 if n < 150 else -25
            )
            if time.perf_counter() > end:
                break

    found = {"dragging a clip": frames_during(driver, drag)}
    found["zooming"] = frames_during(driver, zoom)
    found["scrolling"] = frames_during(driver, scroll)
    return found
