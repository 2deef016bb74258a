"""Pictures of sound: the mixer beside the library, music that gives way and its beats; a voice with its equaliser."""

from __future__ import annotations

import tempfile
import wave
from pathlib import Path

import numpy as np
from hibari import Hibari
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tools.camera import Camera

SENTENCES = (
    "At half past five the valley is still asleep, and the burner wakes the balloon.",
    "Two hours later you have breakfast at six hundred metres.",
)


def spoken(folder: Path) -> Path:
    """Somebody tells of a flight: 24 kHz, mono."""
    voice = Hibari()
    parts = []
    for sentence in SENTENCES:
        said = np.asarray(voice(sentence), np.float32)
        parts += [said / np.abs(said).max() * 0.6, np.zeros(24_000, np.float32)]
    path = folder / "narration.wav"
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(24_000)
        out.writeframes((np.concatenate(parts) * 32767).astype(np.int16).tobytes())
    return path


def pictures_of_sound(camera: Camera) -> None:
    driver = camera.driver
    camera.editor("Dawn flight vouchers")
    with tempfile.TemporaryDirectory() as folder:
        driver.find_element(By.ID, "file-input").send_keys(str(spoken(Path(folder))))
        voice = '.shelf-item[data-name="narration.wav"].is-ready .shelf-pick'
        camera.until(lambda: camera.all(voice), 60)
    for _ in range(2):
        camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL)
    camera.all(voice)[0].send_keys(Keys.ENTER)
    camera.until(lambda: camera.all("#lanes .heard-voice"))
    driver.find_element(By.CSS_SELECTOR, '[data-pane="time"]').send_keys(*[Keys.ARROW_UP] * 2)
    camera.keys(Keys.ESCAPE)
    driver.find_element(By.ID, "tab-music").click()
    camera.until(lambda: len(camera.all("#library-list .piece")) > 20)
    driver.execute_script(
        "const s = document.querySelector('#music-filter [name=mood]'); s.value = 'uplifting';"
        "s.dispatchEvent(new Event('input', {bubbles: true}))"
    )
    driver.find_element(By.ID, "open-mixer").click()
    camera.until(lambda: "LUFS" in driver.find_element(By.ID, "mix-loudness-told").text, 60)
    camera.shoot("sound")
    driver.find_element(By.ID, "close-mixer").click()
