"""Headless Chromium, for the tests and the screenshots."""

from __future__ import annotations

from pathlib import Path

from selenium import webdriver

ARGUMENTS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync",
    "--disable-background-networking", "--disable-component-update", "--hide-scrollbars", "--disable-dev-shm-usage",
    "--autoplay-policy=no-user-gesture-required", "--force-color-profile=srgb",
)  # fmt: skip


FAKES = ("--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream")
"""A microphone that beeps twice a second and a camera with a moving picture, both allowed without asking."""


def open_browser(profile: Path, width: int = 1280, height: int = 800, more: tuple[str, ...] = ()) -> webdriver.Chrome:
    """A browser whose page is exactly `width` by `height`; it talks to nothing but what it is told to."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for argument in (*ARGUMENTS, *more, f"--user-data-dir={profile}", f"--window-size={width},{height + 200}"):
        options.add_argument(argument)
    options.add_experimental_option("prefs", {"download.default_directory": str(profile / "downloads")})
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=webdriver.ChromeService("/usr/bin/chromedriver"))
    size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    driver.set_script_timeout(30)
    return driver
