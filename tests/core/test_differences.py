"""What two versions differ in, in sentences."""

import pytest

from glowreel.core import commands as c
from glowreel.core.differences import differences
from glowreel.core.time import Rate
from tests.core.build import S, Table, sets


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.AddWords(text="Fly", at=S))
    table.do(c.AddSound(media="song"))
    return table


def of(table: Table, command: c.Command) -> list[str]:
    before = table.promo
    table.do(command)
    return differences(before, table.promo)


def test_the_same_has_none_and_moving_a_clip_does_not_tell_of_what_rides_on_it(table: Table) -> None:
    assert differences(table.promo, table.promo) == []
    first, second = (clip.id for clip in table.promo.clips)
    assert of(table, c.MoveClips(clips=(second,), before=first)) == ["The clips are in another order."]


@pytest.mark.parametrize(
    ("command", "sentences"),
    [
        (c.Rename(name="Dusk"), ["Called “Dusk”, before “Dawn flights”."]),
        (c.AddFormat(format="cinema"), ["The format Cinema is new."]),
        (c.RemoveFormat(format="tall"), ["The format Tall is gone."]),
        (c.InsertClips(media=("still",)), ["Lasts 0:19.00, before 0:16.00.", "still is new at 0:16.00."]),
        (c.AddNote(at=0), ["1 note more."]),
        (c.SetEdge(edge="start", kind="iris"), ["Another opening."]),
        (c.Freeze(at=0, length=S), ["Lasts 0:17.00, before 0:16.00.", "ridge is new at 0:00.00."]),
    ],
)
def test_each_kind_of_change_has_its_sentence(table: Table, command: c.Command, sentences: list[str]) -> None:
    assert of(table, command) == sentences


def test_clips_say_what_was_done_to_them(table: Table) -> None:
    first, second = (clip.id for clip in table.promo.clips)
    assert of(table, c.Trim(item=first, length=4 * S)) == [
        "Lasts 0:10.00, before 0:16.00.", "ridge lasts 4.0 s, before 10.0 s.",
    ]  # fmt: skip
    assert of(table, c.Slip(item=first, by=S)) == ["ridge shows another part of its material."]
    assert of(table, c.SetSpeed(item=second, speed=2000))[1] == "field runs at another speed and lasts 3.0 s."
    assert of(table, sets(first, muted=True)) == ["ridge: muted is silent, before heard."]
    assert of(table, c.Replace(item=first, media="still")) == ["still is in the place of ridge."]
    assert of(table, c.SetTransition(after=first)) == ["A crossfade of 0.80 s after still."]
    assert of(table, c.RemoveTransition(after=first)) == ["A hard cut after still."]
    assert of(table, sets(first, fit="letterbox")) == ["still: fit is letterbox, before fills it."]


def test_items_tracks_and_scenes_say_theirs(table: Table) -> None:
    title, song = (item.id for item in table.promo.items)
    assert of(table, c.MoveItem(item=title, at=3 * S)) == ["“Fly” starts at 0:03.00, before 0:01.00."]
    assert of(table, sets(title, text="Fly now")) == ["“Fly now”: words is “Fly now”, before “Fly”."]
    assert of(table, sets(title, opacity=0.5)) == ["“Fly now”: opacity is 50%, before 100%."]
    assert of(table, c.Trim(item=song, length=5 * S)) == ["song lasts 5.0 s, before 30.0 s."]
    track = table.promo.sounds[0].id
    assert of(table, c.SetTrack(track=track, muted=True, gain=-3)) == ["A track is muted.", "A track is at -3.0 dB."]
    assert of(table, c.Remove(items=(song,))) == ["song is gone from 0:00.00."]
    broken = of(table, c.BreakScene(clip=table.promo.clips[1].id))
    assert broken == ["The scene “Scene 2” is new."]
    first, second = (scene.id for scene in table.promo.scenes)
    assert of(table, c.RenameScene(scene=second, name="Offer")) == ["The scene “Scene 2” is called “Offer”."]
    assert "The scenes are in another order." in of(table, c.MoveScene(scene=second, before=first))


def test_what_has_no_sentence_of_its_own_is_not_passed_over(table: Table) -> None:
    promo = table.promo
    clip, scene = promo.clips[0].changed(grade=1), promo.scenes[0]
    other = promo.changed(scenes=(scene.changed(clips=(clip, *scene.clips[1:])),))
    assert differences(promo, other) == ["ridge is different in another way."]
    item, track = promo.layers[0].items[0].changed(grade=1), promo.layers[0]
    other = promo.changed(layers=(track.changed(items=(item,)),))
    assert differences(promo, other) == ["“Fly” is different in another way."]
    assert differences(promo, promo.changed(mood="calm")) == ["Something else of the promo is different."]


def test_another_rate_is_told(table: Table) -> None:
    assert "Runs at 25 frames a second, before 30." in of(table, c.SetRate(rate=Rate(num=25, den=1)))
