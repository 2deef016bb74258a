"""What is said is written down by the real model; words are cut in the quiet between them."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from tools.supervised import ROOT

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.speech.fillers import slips
from glowreel.core.speech.heard import heard
from glowreel.core.speech.transcript import MILLISECOND, from_facts, plain
from glowreel.core.time import SAMPLE_RATE, Rate
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources
from glowreel.engine.transcript import write_down
from glowreel.outside.models import MODELS, ModelFolder
from tests.conftest import Files, Folder
from tests.voice import RATE, said

MODEL = ROOT / "var" / "models" / "speech-english"
PIECES = ("So", "um", "our dawn flights begin on Sunday.", "Book two seats,", "and bring a friend.")


@pytest.fixture(scope="module")
def speech() -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Pieces of speech with a third of a second of quiet between them, and when each is loud."""
    line, spans, at = [np.zeros(RATE)], [], 1.0
    for piece in PIECES:
        part = said(piece)
        loud = np.flatnonzero(np.abs(part) > 0.02)
        part = part[loud[0] : loud[-1] + 1]
        spans.append((at, at + len(part) / RATE))
        line += [part, np.zeros(RATE // 3)]
        at += len(part) / RATE + 1 / 3
    made = np.concatenate([*line, np.zeros(RATE)])
    return made + 0.0005 * np.random.default_rng(5).standard_normal(len(made)), spans


@pytest.fixture(scope="module")
def facts(speech, tmp_path_factory: pytest.TempPathFactory) -> dict:
    folder = tmp_path_factory.mktemp("said")
    path = Files(folder).sound("talk.wav", speech[0][:, None])
    library = Folder(folder)
    media = library.add(path)
    return write_down(library.samples(media.hash), {}, MODEL)


def test_the_words_are_heard_when_they_are_said(facts: dict, speech) -> None:
    assert facts["language"] == "en"
    words = [plain(row[0]) for row in facts["words"]]
    wanted = [plain(word) for piece in PIECES for word in piece.split()]
    assert sum(word in words for word in wanted) >= len(wanted) - 2
    starts = {plain(row[0]): row[1] / 1000 for row in facts["words"]}
    for piece, (start, _) in zip(PIECES[2:], speech[1][2:], strict=True):
        first = plain(piece.split()[0])
        if first in starts:
            assert abs(starts[first] - start) < 0.15
    assert all(row[4] <= row[1] < row[2] for row in facts["words"])
    assert "seats" in facts["text"]


def test_a_filler_leaves_without_a_cut_through_a_word(facts: dict, speech, library: Folder, tmp_path: Path) -> None:
    line, spans = speech
    media = library.add(Files(tmp_path).sound("talk.wav", line[:, None]), heard="voice", length=len(line) * 14_700)
    found = slips(from_facts(media.id, facts).words, "en")
    assert [slip.kind for slip in found] == ["filler"], "the um, and nothing else"
    numbers = iter(range(1000))
    context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", {media.id: media}, found=lambda p, part, m: facts)
    promo = Promo(id="p", name="x", formats=(SHIPPED["wide"],), rate=Rate(num=30, den=1))
    for command in (c.AddSound(media=media.id), c.WriteDown(media=media.id)):
        promo = c.apply(promo, command, context).promo
    key = heard(promo)[found[0].first].key
    after = c.apply(promo, c.RemoveWords(words=(key,)), context).promo
    sources = Sources(library)
    before = mix(sound_recipe(promo, 0, sound_length(promo)), sources)
    cut = mix(sound_recipe(after, 0, sound_length(after)), sources)
    sources.close()
    gone = len(before) - len(cut)
    assert gone > 0.2 * SAMPLE_RATE
    joint = round(heard(after)[found[0].first - 1].end / MILLISECOND / 1000 * SAMPLE_RATE)
    # What was said before and behind is there, to the sample; the joint itself is quiet and does not jump.
    first = round(spans[0][1] * SAMPLE_RATE)
    assert np.abs(cut[:first] - before[:first]).max() < 1e-4
    behind = round(spans[2][0] * SAMPLE_RATE)
    assert np.abs(cut[behind - gone :] - before[behind:]).max() < 1e-4
    assert np.abs(cut[first + 480 : behind - gone - 480]).max() < 0.02, "nothing of the um is left"
    assert np.abs(np.diff(cut[joint : behind - gone], axis=0)).max() < 0.02


def test_models_are_checked_and_missing_ones_are_said(tmp_path: Path) -> None:
    folder = ModelFolder(ROOT / "var" / "models")
    assert all(folder.standing(name).ready for name in MODELS)
    empty = ModelFolder(tmp_path)
    assert not empty.standing("speech-many").ready
    (tmp_path / "ours").mkdir()
    (tmp_path / "ours" / "model.bin").write_bytes(b"x")
    assert empty.own() == ("ours",)
    assert not empty.ready("../speech-many")
