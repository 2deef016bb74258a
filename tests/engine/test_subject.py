"""Where the subject of pictures is found, and how the view follows it: calm, no farther than it must, with the cuts."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tools.heads import PIECES, film_of, picture_of

from glowreel.core.subject import Subject, focus_of
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.intake import take_in
from glowreel.engine.subject import (
    SPEED,
    STILL,
    TURNS,
    Frame,
    Look,
    Seen,
    _Watcher,
    calmed,
    cuts_in,
    frames_of,
    held,
    shot_of,
    simpler,
    subject_of_footage,
    subject_of_photo,
)  # fmt: skip

BY_NAME = {piece.name: piece for piece in PIECES}
TALL = (0.32, 1.0)


def found_in(folder: Path, name: str) -> Subject:
    piece = BY_NAME[name]
    return subject_of_footage(frames_of(film_of(piece, folder / "piece.mp4")), lambda share: None, piece.seconds)


def across(subject: Subject, seconds: float, how: str = "subject") -> float:
    found = focus_of(subject, round(seconds * TICKS_PER_SECOND), TALL, how)
    assert found is not None
    return found[0]


def test_somebody_who_walks_is_followed(tmp_path: Path) -> None:
    subject = found_in(tmp_path, "one person who walks across")
    for at in (0.5, 2, 4, 5.5):
        assert across(subject, at) == pytest.approx(0.2 + 0.1 * at, abs=0.06)


def test_somebody_who_stands_is_not_drifted_about(tmp_path: Path) -> None:
    (shot,) = found_in(tmp_path, "one person who stands at the side").shots
    assert len(shot.first) == 1
    assert shot.first[0][1] == pytest.approx(0.78, abs=0.03)


def test_of_two_who_have_no_room_one_is_in_view_and_both_can_be_asked_for(tmp_path: Path) -> None:
    subject = found_in(tmp_path, "two people at both sides")
    assert min(abs(across(subject, 2) - 0.2), abs(across(subject, 2) - 0.84)) < 0.04
    assert across(subject, 2, "both") == pytest.approx(0.52, abs=0.04)


def test_the_view_jumps_with_a_cut(tmp_path: Path) -> None:
    subject = found_in(tmp_path, "a cut inside")
    assert len(subject.shots) == 2
    assert subject.shots[1].at == pytest.approx(2.5 * TICKS_PER_SECOND, abs=TICKS_PER_SECOND / 20)
    assert (across(subject, 2.4), across(subject, 2.6)) == pytest.approx((0.22, 0.76), abs=0.04)


def test_what_stands_out_is_found_where_nobody_is_and_nothing_where_nothing_does(tmp_path: Path) -> None:
    assert across(found_in(tmp_path, "a ball that rolls"), 2.5) == pytest.approx(0.5, abs=0.08)
    assert found_in(tmp_path, "no subject") == Subject()


def test_a_photo_is_looked_at_when_it_comes_in_and_its_view_goes_to_the_face(tmp_path: Path) -> None:
    picture = picture_of(BY_NAME["one person who stands at the side"], 0)
    path = tmp_path / "person.png"
    cv2.imwrite(str(path), picture)
    facts = take_in(path, "person.png", tmp_path, lambda share: None, lambda seconds: None).facts
    assert facts.subject is not None
    assert across(facts.subject, 0) == pytest.approx(0.78, abs=0.04)
    plain = np.full((200, 300, 4), 128, np.uint8)
    assert subject_of_photo(plain) == Subject()


walks = st.lists(st.floats(0, 1), min_size=3, max_size=60).map(
    lambda steps: np.stack([np.array(steps), np.full(len(steps), 0.5)], axis=1)
)


@given(path=walks)
def test_the_view_is_never_faster_nor_turns_quicker_than_a_camera(path: np.ndarray) -> None:
    made = calmed(held(path), 0.25)
    assert np.abs(np.diff(made, axis=0)).max() / 0.25 <= SPEED * 1.05
    assert np.abs(np.diff(made, 2, axis=0)).max(initial=0) / 0.25**2 <= TURNS * 1.05
    times = np.arange(len(made)) * 0.25
    rows = simpler(times, made)
    for side in range(2):
        again = np.interp(times, times[rows], made[rows, side])
        assert np.abs(again - made[:, side]).max() <= 0.0041, "points that are left out are not missed"


def test_what_trembles_stands_still() -> None:
    path = np.stack([0.5 + STILL * 0.9 * np.sin(np.arange(40)), np.full(40, 0.4)], axis=1)
    assert np.ptp(held(path)[:, 0]) == 0


def test_a_glance_at_somebody_is_no_subject() -> None:
    looks = [Look(n / 4, faces=[Seen(n / 4, 0.8, 0.5, 0.02)] if n == 3 else []) for n in range(20)]
    assert shot_of(looks, 0, 5).first == ()


def test_cuts_are_told_from_what_moves() -> None:
    lights = [np.full((18, 32), 40 + 4 * n, np.uint8) for n in range(12)]
    lights += [np.full((18, 32), 200 - 3 * n, np.uint8) for n in range(12)]
    assert cuts_in(lights) == [12]


def test_a_picture_in_which_nothing_changes_is_looked_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """A recorded screen: it stands, one thing on it changes, it stands again."""
    pixels = cv2.cvtColor(picture_of(BY_NAME["one person who stands at the side"], 0.0), cv2.COLOR_BGR2BGRA)
    looked: list[float] = []
    usual = _Watcher.look

    def look(self: _Watcher, pixels: np.ndarray, at: float, sudden: bool) -> Look:
        looked.append(at)
        return usual(self, pixels, at, sudden)

    monkeypatch.setattr(_Watcher, "look", look)

    def frames():
        for number in range(300):
            shown = pixels if number < 150 else pixels[:, ::-1]
            light = cv2.resize(cv2.cvtColor(np.ascontiguousarray(shown), cv2.COLOR_BGRA2GRAY), (64, 36))
            yield Frame(number / 10, light, lambda shown=shown: np.ascontiguousarray(shown))

    subject = subject_of_footage(frames(), lambda share: None, 30)
    assert looked == [0.0, 15.0]
    monkeypatch.setattr("glowreel.engine.subject.UNCHANGED", -1.0)
    each_time = subject_of_footage(frames(), lambda share: None, 30)
    assert len(looked) > 60
    for at in (5, 14, 16, 28):
        assert across(subject, at) == pytest.approx(across(each_time, at), abs=0.02)
    looked.clear()
    long = subject_of_footage(frames(), lambda share: None, 600)
    assert len(looked) < 40, "of long footage, fewer pictures a second are looked at"
    assert across(long, 14) == pytest.approx(across(each_time, 14), abs=0.05)


def test_what_flashes_for_long_is_not_looked_at_anew_with_each_flash(monkeypatch: pytest.MonkeyPatch) -> None:
    leaps: list[bool] = []

    def look(self: _Watcher, pixels: np.ndarray, at: float, sudden: bool) -> Look:
        leaps.append(sudden)
        return Look(at)

    monkeypatch.setattr(_Watcher, "look", look)
    dark = np.zeros((36, 64, 4), np.uint8)

    def frames():
        for number in range(120):
            shown = dark + (number % 2) * np.uint8(255)
            yield Frame(number * 0.7, shown[:, :, 0], lambda shown=shown: shown)

    subject_of_footage(frames(), lambda share: None, 84)
    assert sum(leaps) > 100, "in something short every flash is new"
    leaps.clear()
    subject_of_footage(frames(), lambda share: None, 600)
    assert 5 < sum(leaps) < 20
