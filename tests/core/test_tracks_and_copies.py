"""Whole tracks, several items at once, copying and pasting, scenes as things, detached sound, notes."""

import pytest

from glowreel.core import commands as c
from glowreel.core.document import Tied
from glowreel.core.errors import Missing, Refusal
from glowreel.core.fragment import take
from glowreel.core.recipe.sound import all_voices
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, numbered, sets
from tests.core.test_cutting import track_of_main, where


@pytest.fixture
def table() -> Table:
    """ridge 0–10 and field 10–16 in two scenes; title “one” at 2, “two” at 11; a song from 0."""
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.BreakScene(clip=table.promo.clips[1].id))
    table.do(c.AddWords(text="one", at=2 * S, length=2 * S))
    table.do(c.AddWords(text="two", at=11 * S, length=2 * S))
    table.do(c.AddSound(media="song"))
    return table


def item(table: Table, text: str) -> str:
    return next(i.id for i in table.promo.items if (i.read("text") if i.kind == "words" else i.media) == text)


def names(table: Table) -> list[str]:
    return [scene.name for scene in table.promo.scenes]


# ---- tracks ----


def test_a_locked_track_is_not_edited_but_still_follows_its_clips(table: Table) -> None:
    track = table.promo.layers[0].id
    table.do(c.SetTrack(track=track, locked=True))
    for command in (
        c.MoveItem(item=item(table, "one"), at=0),
        c.Remove(items=(item(table, "two"),)),
        c.RemoveTrack(track=track),
        c.CloseGap(track=track),
        c.AddWords(at=6 * S, track=track),
    ):
        with pytest.raises(Refusal, match="locked"):
            table.do(command)
    table.do(c.AddWords(text="new", at=6 * S))
    assert len(table.promo.layers) == 2, "what is new goes elsewhere"
    table.do(c.MoveClips(clips=(table.promo.clips[1].id,), before=table.promo.clips[0].id))
    assert where(table.promo)["one"] == (8, 10)
    table.do(c.SetTrack(track=track, locked=False))
    table.do(c.Remove(items=(item(table, "two"),)))


def test_nothing_on_a_locked_track_goes_with_its_clip_or_with_attached_sound(table: Table) -> None:
    first = table.promo.clips[0].id
    table.do(c.DetachSound(clip=first))
    voice = next(t for t in table.promo.sounds if t.items[0].of == first)
    table.do(c.SetTrack(track=voice.id, locked=True))
    with pytest.raises(Refusal, match="locked"):
        table.do(c.AttachSound(clip=first))
    table.do(c.SetTrack(track=table.promo.layers[0].id, locked=True))
    before = {i.id for i in table.promo.items}
    table.do(c.Remove(items=(first,)))
    assert {i.id for i in table.promo.items} == before


def test_muted_tracks_are_silent_and_solo_silences_the_others(table: Table) -> None:
    table.do(c.AddSound(media="song", at=S, track=None))
    first, second = (track.id for track in table.promo.sounds)
    assert len(all_voices(table.promo)) == 4
    table.do(c.SetTrack(track=first, muted=True))
    assert len(all_voices(table.promo)) == 3
    table.do(c.SetTrack(track=second, solo=True))
    assert len(all_voices(table.promo)) == 1
    table.do(c.SetTrack(track=second, gain=-6.0206))
    assert all_voices(table.promo)[0].gain == pytest.approx(0.5, abs=1e-3)
    table.do(sets(table.promo.sounds[1].items[0].id, muted=True))
    assert all_voices(table.promo) == []


def test_tracks_change_places_and_go(table: Table) -> None:
    table.do(c.AddWords(text="front", at=2 * S, length=S))
    before = [track.id for track in table.promo.layers]
    table.do(c.MoveTrack(track=before[1], by=-9))
    assert [track.id for track in table.promo.layers] == before[::-1]
    table.do(c.SetTrack(track=before[0], name="  Lower   thirds "))
    assert table.promo.layers[1].name == "Lower thirds"
    table.do(c.RemoveTrack(track=before[0]))
    assert [track.id for track in table.promo.layers] == before[1:]
    with pytest.raises(Refusal, match="no other track"):
        table.do(c.MoveTrack(track=before[1], by=1))


def test_the_second_half_of_a_voice_steps_to_the_next_track(table: Table) -> None:
    song = item(table, "song")
    half = table.do(c.SplitAt(item=song, at=5 * S)).select[0]
    table.do(c.StepTrack(item=half, by=1))
    assert [[i.id for i in track.items] for track in table.promo.sounds] == [[song], [half]]
    assert where(table.promo)["song+"] == (5, 30)
    with pytest.raises(Refusal, match="alone on the last track"):
        table.do(c.StepTrack(item=half, by=1))
    table.do(c.StepTrack(item=half, by=-1))
    assert [len(track.items) for track in table.promo.sounds] == [2]


# ---- several ----


def test_several_items_move_and_are_trimmed_together(table: Table) -> None:
    both = (item(table, "one"), item(table, "two"))
    table.do(c.MoveItems(items=both, by=3 * S))
    assert where(table.promo)["one"] == (5, 7)
    assert where(table.promo)["two"] == (14, 16)
    table.do(c.MoveItems(items=both, by=-99 * S))
    assert where(table.promo)["one"] == (0, 2)
    assert where(table.promo)["two"] == (9, 11)
    table.do(c.TrimBy(items=(*both, table.promo.clips[0].id), by=-S))
    assert where(table.promo)["one"] == (0, 1)
    assert table.promo.clips[0].length == 9 * S
    with pytest.raises(Refusal, match="no start to move"):
        table.do(c.MoveItems(items=(table.promo.clips[0].id,), by=S))
    table.do(c.TrimTo(items=(*both, *(clip.id for clip in table.promo.clips)), length=4 * S))
    assert [end - start for start, end in (where(table.promo)[name] for name in ("one", "two"))] == [4, 4]
    assert {clip.length for clip in table.promo.clips} == {4 * S}


def test_a_group_is_named_on_all_of_it_and_comes_apart(table: Table) -> None:
    both = (item(table, "one"), table.promo.clips[1].id)
    table.do(c.Group(items=both))
    index = timeline(table.promo)
    assert index.item[both[0]].group == index.clip[both[1]].group is not None
    table.do(c.Group(items=both, apart=True))
    assert timeline(table.promo).clip[both[1]].group is None
    with pytest.raises(Refusal, match="at least two"):
        table.do(c.Group(items=both[:1]))


# ---- copies ----


def test_copied_clips_bring_what_is_tied_to_them(table: Table) -> None:
    fragment = take(table.promo, {table.promo.clips[0].id})
    table.do(c.Paste(fragment=fragment, at=15 * S))
    assert table.names == "ridge field ridge"
    assert where(table.promo)["one+"] == (18, 20)
    copy = next(i for i in table.promo.items if getattr(i.anchor, "clip", "") == table.promo.clips[2].id)
    assert copy.read("text") == "one"


def test_items_are_pasted_at_the_playhead_as_far_apart_as_they_were(table: Table) -> None:
    fragment = take(table.promo, {item(table, "one"), item(table, "two")})
    table.do(c.Paste(fragment=fragment, at=5 * S))
    assert where(table.promo)["one+"] == (5, 7)
    assert where(table.promo)["two+"] == (14, 16)
    assert all(isinstance(i.anchor, Tied) for i in table.promo.items if i.kind == "words")


def test_a_scene_from_another_promo_comes_with_all_that_is_tied_to_it(table: Table) -> None:
    fragment = take(table.promo, set(), table.promo.scenes[1].id)
    other = Table()
    other.context = type(other.context)(numbered("other-"), MEDIA)
    other.do(c.InsertClips(media=("basket", "still")))
    other.do(c.BreakScene(clip=other.promo.clips[1].id))
    other.do(c.Paste(fragment=fragment, at=5 * S))
    assert other.names == "basket field still"
    assert names(other) == ["Scene 1", "Scene 2 2", "Scene 2"]
    assert where(other.promo) == {"two": (5, 7)}
    assert set(other.promo.media) == {"basket", "field", "still"}
    # The facts of media are the Shelf's, whatever the fragment says of them.
    lying = fragment.changed(media={"field": MEDIA["field"].changed(length=900 * S)})
    other.do(c.Paste(fragment=lying, at_end=True))
    assert other.promo.media["field"].length == MEDIA["field"].length
    with pytest.raises(Missing, match="nothing to copy"):
        take(other.promo, {"gone"})


def test_duplicates_stand_right_after_what_they_copy(table: Table) -> None:
    first = table.promo.clips[0].id
    table.do(c.SetTransition(after=first))
    table.do(c.Duplicate(items=(first,)))
    assert table.names == "ridge ridge field"
    assert where(table.promo)["one+"] == (12, 14)
    assert [t.after for t in table.promo.transitions] == [table.promo.clips[1].id], "it stays before what comes next"
    table.do(c.Duplicate(items=(item(table, "two"),)))
    assert where(table.promo)["two+"] == (23, 25)


# ---- scenes ----


def test_scenes_are_moved_copied_put_in_and_removed_with_what_is_tied_to_them(table: Table) -> None:
    first, second = (scene.id for scene in table.promo.scenes)
    table.do(c.MoveScene(scene=second, before=first))
    assert table.names == "field ridge"
    assert where(table.promo)["two"] == (1, 3)
    table.do(c.Duplicate(scene=second))
    assert names(table) == ["Scene 2", "Scene 2 2", "Scene 1"]
    assert where(table.promo)["two+"] == (7, 9)
    table.do(c.InsertScene(beside=first, side="before", length=S))
    assert [clip.kind for clip in table.promo.clips] == ["footage", "footage", "filler", "footage"]
    table.do(c.RemoveScene(scene=second))
    assert names(table) == ["Scene 2 2", "Scene 3", "Scene 1"]
    assert "two" in where(table.promo)
    assert "two+" not in where(table.promo)


def test_breaking_a_scene_at_a_time_cuts_the_clip_there(table: Table) -> None:
    table.do(c.BreakScene(at=4 * S))
    assert names(table) == ["Scene 1", "Scene 3", "Scene 2"]
    assert track_of_main(table.promo)[:2] == [("ridge", 4, 0), ("ridge", 6, 4)]
    with pytest.raises(Missing, match="no clip there"):
        table.do(c.BreakScene(at=90 * S))


def test_a_scene_gets_shorter_from_its_end_and_longer_with_a_filler(table: Table) -> None:
    table.do(c.JoinScene(scene=table.promo.scenes[0].id))
    scene = table.promo.scenes[0].id
    table.do(c.SetSceneLength(scene=scene, length=8 * S))
    assert track_of_main(table.promo) == [("ridge", 8, 0)]
    edit = table.do(c.SetSceneLength(scene=scene, length=13 * S))
    assert track_of_main(table.promo) == [("ridge", 10, 0), ("Filler", 3, 0)]
    assert "a filler holds the last 3.0 s" in edit.notice
    table.do(c.SetSceneLength(scene=scene, length=1))
    assert timeline(table.promo).length == S // 10


# ---- sound, notes ----


def test_detached_sound_is_heard_the_same_and_comes_back(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(sets(clip, gain=-3))
    before = table.promo
    sound = table.do(c.DetachSound(clip=clip)).select[0]
    voice, old = all_voices(table.promo)[-1], all_voices(before)[0]
    assert (voice.source, voice.at, voice.length, voice.gain) == (old.source, old.at, old.length, old.gain)
    assert len(all_voices(table.promo)) == len(all_voices(before))
    with pytest.raises(Refusal, match="already"):
        table.do(c.DetachSound(clip=clip))
    table.do(c.SplitAt(item=sound, at=4 * S))
    table.do(c.AttachSound(clip=clip))
    assert table.promo == before


def test_a_note_stays_with_the_picture_it_is_about(table: Table) -> None:
    note = table.do(c.AddNote(at=12 * S, text=" too dark ")).select[0]
    first, second = (clip.id for clip in table.promo.clips)
    table.do(c.MoveClips(clips=(second,), before=first))
    index = timeline(table.promo)
    assert (index.note_at(index.note[note]), index.note[note].text) == (2 * S, "too dark")
    table.do(c.RemoveRange(start=0, end=S))
    index = timeline(table.promo)
    assert index.note_at(index.note[note]) == S
    table.do(c.SetNote(note=note, text="fine", at=5 * S))
    table.do(c.Remove(items=(note,)))
    assert table.promo.notes == ()


def test_transitions_go_on_all_cuts_or_the_nearest_and_say_what_is_held(table: Table) -> None:
    table.do(c.InsertClips(media=("basket",)))
    edit = table.do(c.SetTransition(at=9 * S, kind="push-left", length=2 * S))
    assert edit.sentence == "Set a push left of 2.0 s after ridge"
    cut = timeline(table.promo).cuts[0]
    assert (cut.held_before, cut.held_behind) == (S, S), "neither has anything beyond the cut"
    table.do(c.Trim(item=table.promo.clips[0].id, length=S * 19 // 2))
    cut = timeline(table.promo).cuts[0]
    assert (cut.held_before, cut.held_behind) == (S // 2, S)
    table.do(c.SetAllTransitions(kind="wipe-up", length=S))
    assert [t.kind for t in table.promo.transitions] == ["wipe-up", "wipe-up"]
