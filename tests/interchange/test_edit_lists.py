"""Edit lists of other programs: what of a promo survives each way, as the table says; and files of their own kind."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import aaf2
import opentimelineio as otio
import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.time import Rate, seconds, ticks
from glowreel.core.timeline import timeline
from glowreel.interchange.bundles import unpack
from glowreel.interchange.edit_lists import EDIT_LISTS, as_timeline, edl_rate, written
from glowreel.interchange.elsewhere import from_elsewhere, link_name
from tests.core.build import media, numbered

FILES = {one.name: one for one in (media("ridge", length=30), media("field", length=20), media("sign", "photo"),
         media("song", "sound", length=40, width=0, height=0, rate=None))}  # fmt: skip


def cut(*lengths: float, rate: int = 30) -> tuple[Promo, c.Context]:
    """A promo whose main track takes turns between two files."""
    context = c.Context(numbered(), {one.id: one for one in FILES.values()})
    promo = Promo(id="p", name="Dawn", formats=(SHIPPED["wide"],), rate=Rate(num=rate, den=1), rate_chosen=True)
    for number, length in enumerate(lengths):
        clip = c.InsertClips(media=(("ridge", "field")[number % 2],), into=ticks(number), length=ticks(length))
        promo = c.apply(promo, clip, context).promo
    return promo, context


def back(promo: Promo, key: str, folder: Path) -> Promo:
    """The promo once it was saved in a form and opened again."""
    path = folder / f"saved{EDIT_LISTS[key].suffix}"
    path.write_text(written(promo, key))
    text = unpack(path, folder).text
    found = from_elsewhere(text, lambda url: FILES.get(link_name(url)), numbered("b"), "q")
    assert found.notices == []
    return found.promo


def laid(promo: Promo) -> list[tuple[str, float, float]]:
    """The main track: which file, from where in it, how long."""
    return [
        (promo.media[clip.media].name, round(seconds(clip.source.at + clip.into), 2), round(seconds(clip.length), 2))
        for clip in promo.clips if clip.media is not None and clip.source is not None
    ]  # fmt: skip


@pytest.mark.parametrize("key", ["edl", "xml"])
@pytest.mark.parametrize("rate", [24, 25, 30])
def test_cuts_come_back_where_they_were(key: str, rate: int, tmp_path: Path) -> None:
    promo, _ = cut(2, 3.2, 1.4, 4, rate=rate)
    again = back(promo, key, tmp_path)
    assert laid(again) == laid(promo)
    assert timeline(again).length == timeline(promo).length


@given(lengths=st.lists(st.integers(5, 200), min_size=1, max_size=12))
def test_any_cuts_come_back_through_either(lengths: list[int], tmp_path_factory: pytest.TempPathFactory) -> None:
    promo, _ = cut(*(frames / 30 for frames in lengths))
    for key in ("edl", "xml"):
        assert laid(back(promo, key, tmp_path_factory.mktemp(key))) == laid(promo)


@pytest.mark.parametrize("key", ["edl", "xml"])
def test_a_crossfade_comes_back_as_long_as_it_was(key: str, tmp_path: Path) -> None:
    promo, context = cut(3, 3)
    step = c.SetTransition(after=promo.clips[0].id, kind="crossfade", length=ticks(0.8))
    promo = c.apply(promo, step, context).promo
    again = back(promo, key, tmp_path)
    assert [round(seconds(one.length), 2) for one in again.transitions] == [0.8]
    assert timeline(again).length == timeline(promo).length


def test_an_even_speed_comes_back_from_an_edl(tmp_path: Path) -> None:
    promo, context = cut(4)
    clip = promo.clips[0].id
    promo = c.apply(promo, c.SetSpeed(item=clip, speed=2000), context).promo
    (found,) = back(promo, "edl", tmp_path).clips
    assert found.source is not None
    assert found.source.speed is not None
    assert found.source.speed.constant == 2000


def test_an_xml_holds_layers_and_sounds_and_an_edl_only_the_main_track(tmp_path: Path) -> None:
    promo, context = cut(6)
    for step in (c.AddPicture(media="sign", at=ticks(1)), c.AddSound(media="song")):
        promo = c.apply(promo, step, context).promo
    promo = c.apply(promo, c.Trim(item=promo.layers[0].items[0].id, length=ticks(2)), context).promo
    (tmp_path / "xml").mkdir()
    (tmp_path / "edl").mkdir()
    kept = back(promo, "xml", tmp_path / "xml")
    (picture,) = [item for track in kept.layers for item in track.items]
    assert (seconds(timeline(kept).item_span(picture).start), seconds(picture.length)) == (1.0, 2.0)
    assert len(kept.sounds) == 1
    bare = back(promo, "edl", tmp_path / "edl")
    assert (bare.layers, bare.sounds) == ((), ())


def test_an_edit_list_of_another_hand_is_read_with_names_from_its_remarks(tmp_path: Path) -> None:
    path = tmp_path / "theirs.edl"
    path.write_text(
        "TITLE: ROUGH\r\nFCM: NON-DROP FRAME\r\n\r\n"
        "001  TAPE01   V     C        01:00:10:00 01:00:12:12 01:00:00:00 01:00:02:12\r\n"
        "* FROM CLIP NAME: ridge\r\n"
        "002  BL       V     C        00:00:00:00 00:00:01:00 01:00:02:12 01:00:03:12\r\n"
        "003  TAPE02   V     C        00:00:05:00 00:00:06:24 01:00:03:12 01:00:05:11\r\n"
        "* FROM CLIP NAME: nowhere.mov\r\n",
        "utf-8",
    )
    found = from_elsewhere(unpack(path, tmp_path).text, lambda url: FILES.get(link_name(url)), numbered(), "p")
    assert str(found.promo.rate) == "25"
    assert [round(seconds(clip.length), 2) for clip in found.promo.clips] == [2.48, 1.0, 1.96]
    assert found.promo.clips[0].media == "ridge"
    assert found.notices == ["“nowhere.mov” is missing; filler holds its place."]


@pytest.mark.parametrize(("frames", "rate"), [("23", 24.0), ("24", 25.0), ("29", 30.0), ("49", 50.0), ("59", 60.0)])
def test_the_rate_of_an_edit_list_is_the_least_that_holds_its_frames(frames: str, rate: float) -> None:
    assert edl_rate(f"001 A V C 00:00:00:00 00:00:01:{frames} 00:00:00:00 00:00:01:{frames}") == rate


def test_an_aaf_is_read(tmp_path: Path) -> None:
    made = otio.schema.Timeline("From a film")
    track = otio.schema.Track("V1", kind=otio.schema.TrackKind.Video)
    for name, frames in (("ridge", 50), ("field", 75)):
        span = otio.opentime.TimeRange(otio.opentime.RationalTime(25, 25), otio.opentime.RationalTime(frames, 25))
        whole = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(500, 25))
        reference = otio.schema.ExternalReference(target_url=name, available_range=whole)
        clip = otio.schema.Clip(name=name, media_reference=reference, source_range=span)
        clip.metadata["AAF"] = {"SourceID": str(aaf2.mobid.MobID.new())}
        track.append(clip)
    made.tracks.append(track)
    path = tmp_path / "film.aaf"
    otio.adapters.write_to_file(made, str(path), use_empty_mob_ids=True)
    text = as_timeline(path)
    assert text is not None
    promo = from_elsewhere(text, lambda url: FILES.get(link_name(url)), numbered(), "p").promo
    assert [(clip.name, round(seconds(clip.length), 2)) for clip in promo.clips] == [("ridge", 2.0), ("field", 3.0)]


@pytest.mark.parametrize(
    ("name", "text", "code"),
    [
        ("bomb.xml", '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aa">]><xmeml version="5">&a;</xmeml>', "broken"),
        ("torn.xml", '<?xml version="1.0"?><xmeml version="5"><sequence>', "broken"),
        ("odd.edl", "001  A  V  C  99:99:99:99 00:00:00:00 zz 00\n", "not-otio"),
        ("words.txt", "Dear all, the cut is at 01:00:00:00.", "not-otio"),
    ],
)
def test_what_is_no_edit_list_is_refused(name: str, text: str, code: str, tmp_path: Path) -> None:
    path = tmp_path / name
    path.write_text(text)
    with pytest.raises(Refusal) as refused:
        from_elsewhere(unpack(path, tmp_path).text, lambda url: None, numbered(), "p")
    assert refused.value.code == code


def test_notes_and_scenes_are_written_as_tables() -> None:
    promo, context = cut(5, 5)
    for at, text in ((6.5, "=later, much"), (1, "first")):
        promo = c.apply(promo, c.AddNote(at=ticks(at), text=text), context).promo
    promo = c.apply(promo, c.BreakScene(clip=promo.clips[1].id), context).promo
    rows = list(csv.reader(io.StringIO(written(promo, "markers"))))
    assert rows[1:] == [["0:01:00", "1.000", "first"], ["0:06:15", "6.500", "'=later, much"]]
    assert [line.split(" ")[0] for line in written(promo, "chapters").splitlines()] == ["0:00", "0:05"]
    with pytest.raises(Refusal, match="nothing in this promo"):
        written(Promo(id="e", name="Empty", formats=(SHIPPED["wide"],)), "edl")


def test_the_table_says_of_every_form_what_is_left() -> None:
    for row in EDIT_LISTS.values():
        assert row.survives
        assert row.lost
