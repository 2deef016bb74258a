import pytest

from glowreel.core.commands import (
    AddPicture,
    AddWords,
    BreakScene,
    FillMissing,
    InsertClips,
    InsertFiller,
    JoinScene,
    MoveClips,
    Remove,
    ReplaceEverywhere,
    SetTransition,
    Trim,
    read_command,
)
from glowreel.core.commands.everywhere import missing
from glowreel.core.document import Clip, Tied
from glowreel.core.errors import Missing, Refusal
from glowreel.core.source import Source
from glowreel.core.time import Rate, ticks
from glowreel.core.timeline import timeline
from tests.core.build import S, Table


def table_with(*media: str) -> Table:
    table = Table()
    if media:
        table.do(InsertClips(media=media))
    return table


def test_clips_go_to_the_cut_nearest_to_the_playhead() -> None:
    table = table_with("ridge", "field")
    table.do(InsertClips(media=("basket", "still"), at=9 * S))
    assert table.names == "ridge basket still field"
    table.do(InsertClips(media=("still",), at=4 * S))
    assert table.names == "still ridge basket still field"


def test_the_first_clip_makes_the_first_scene_and_later_ones_join_the_scene_before_them() -> None:
    table = table_with("ridge", "field")
    second = table.promo.clips[1].id
    table.do(BreakScene(clip=second))
    table.do(InsertClips(media=("still",), before=second))
    assert [len(scene.clips) for scene in table.promo.scenes] == [2, 1]


def test_a_sound_is_refused_on_the_main_track_with_what_would_work() -> None:
    with pytest.raises(Refusal, match=r"song has no picture\. Put it on a sound track"):
        table_with().do(InsertClips(media=("song",)))


def test_moving_a_clip_takes_its_title_along() -> None:
    table = table_with("ridge", "field", "basket")
    title = table.do(AddWords(at=11 * S)).select[0]
    field = table.promo.clips[1].id
    table.do(MoveClips(clips=(field,), before=table.promo.clips[0].id))
    index = timeline(table.promo)
    assert table.names == "field ridge basket"
    assert index.item_span(index.item[title]).start == 1 * S


def test_moving_several_keeps_their_order_and_moving_onto_itself_changes_nothing() -> None:
    table = table_with("ridge", "field", "basket", "still")
    first, second, third, fourth = (c.id for c in table.promo.clips)
    table.do(MoveClips(clips=(third, first), before=None))
    assert table.names == "field still ridge basket"
    before = table.promo
    table.do(MoveClips(clips=(second,), before=second))
    assert table.promo == before


def test_trimming_the_end_ripples_and_is_held_by_the_media() -> None:
    table = table_with("ridge", "field")
    clip = table.promo.clips[0].id
    table.do(Trim(item=clip, length=ticks(3.21)))
    assert timeline(table.promo).clip_span[table.promo.clips[1].id].start == Rate(num=30, den=1).snap(ticks(3.21))
    table.do(Trim(item=clip, length=40 * S))
    assert table.promo.clips[0].length == 10 * S
    table.do(Trim(item=clip, length=1))
    assert table.promo.clips[0].length == table.promo.rate.frame


def test_trimming_the_start_shifts_the_source_and_leaves_the_title_on_its_picture() -> None:
    table = table_with("ridge")
    title = table.do(AddWords(at=5 * S)).select[0]
    table.do(Trim(item=table.promo.clips[0].id, edge="start", length=7 * S))
    clip = table.promo.clips[0]
    assert (clip.begins, clip.length) == (3 * S, 7 * S)
    assert timeline(table.promo).item[title].anchor == Tied(clip=clip.id, offset=2 * S)
    table.do(Trim(item=clip.id, edge="start", length=60 * S))
    assert (table.promo.clips[0].begins, table.promo.clips[0].length) == (0, 10 * S)


def test_removing_a_clip_takes_what_ended_with_it_and_keeps_what_outlasts_it() -> None:
    table = table_with("ridge", "field")
    inside = table.do(AddWords(text="inside", at=2 * S)).select[0]
    across = table.do(AddWords(text="across", at=8 * S, length=4 * S)).select[0]
    edit = table.do(Remove(items=(table.promo.clips[0].id,)))
    index = timeline(table.promo)
    assert inside not in index.item
    assert index.item[across].anchor == Tied(clip=table.promo.clips[0].id, offset=0)
    assert "1 layer outlasted the clip" in edit.notice


def test_removing_what_is_gone_is_a_refusal_not_a_loss() -> None:
    table = table_with("ridge", "field")
    gone = table.promo.clips[0].id
    table.do(Remove(items=(gone,)))
    with pytest.raises(Missing, match="already been removed"):
        table.do(Remove(items=(gone,)))


def test_a_scene_left_without_clips_goes_and_joining_undoes_breaking() -> None:
    table = table_with("ridge", "field")
    whole = table.promo.scenes
    table.do(BreakScene(clip=table.promo.clips[1].id))
    broken = table.promo
    table.do(JoinScene(scene=broken.scenes[0].id))
    assert table.promo.scenes == whole
    table.promo = broken
    table.do(Remove(items=(broken.clips[0].id,)))
    assert [scene.name for scene in table.promo.scenes] == ["Scene 2"]


def test_a_transition_changes_no_length_and_goes_with_its_cut() -> None:
    table = table_with("ridge", "field", "basket")
    length = timeline(table.promo).length
    first = table.promo.clips[0].id
    table.do(SetTransition(after=first, length=S))
    cut = timeline(table.promo).cuts[0]
    assert timeline(table.promo).length == length
    assert (cut.span.start, cut.span.end) == (9.5 * S, 10.5 * S)
    with pytest.raises(Refusal, match="no cut after the last clip"):
        table.do(SetTransition(after=table.promo.clips[-1].id))
    table.do(Remove(items=(first,)))
    assert table.promo.transitions == ()


def test_neighbouring_transitions_never_meet_inside_a_short_clip() -> None:
    table = table_with("ridge", "field", "basket")
    table.do(Trim(item=table.promo.clips[1].id, length=S))
    for clip in table.promo.clips[:2]:
        table.do(SetTransition(after=clip.id, length=4 * S))
    first, second = timeline(table.promo).cuts
    assert first.span.end <= second.span.start


def test_a_filler_holds_a_place() -> None:
    table = table_with("ridge")
    table.do(InsertFiller(at=0, length=2 * S))
    assert [clip.kind for clip in table.promo.clips] == ["filler", "footage"]
    with pytest.raises(ValueError, match="needs no material"):
        Clip(id="c", kind="filler", source=Source(media="ridge"), length=S)


@pytest.mark.parametrize(
    "data",
    [{"do": "fly"}, {}, [], {"do": "trim", "item": "c1", "length": -4}, {"do": "trim", "item": "c1", "length": 10**30}],
)
def test_a_command_that_makes_no_sense_is_one_sentence(data: object) -> None:
    with pytest.raises(Refusal, match="That cannot be done"):
        read_command(data)


def test_a_file_is_replaced_wherever_it_is_used_from_the_same_moment_on() -> None:
    table = Table()
    table.do(InsertClips(media=("ridge", "basket", "ridge")))
    first, _, last = table.promo.clips
    table.do(Trim(item=last.id, edge="start", length=4 * S))
    table.do(AddPicture(media="ridge", at=S))
    table.do(ReplaceEverywhere(old="ridge", media="field", shorter="hold"))
    clips = table.promo.clips
    assert [clip.media for clip in clips] == ["field", "basket", "field"]
    assert [clip.length for clip in clips] == [10 * S, 4 * S, 4 * S], "places stay as long"
    last = clips[2]
    assert last.source.range(last.into, last.length)[0] == 2 * S, "six seconds in, as far as it has them"
    assert all(item.media == "field" for track in table.promo.layers for item in track.items)
    with pytest.raises(Refusal, match="not used"):
        table.do(ReplaceEverywhere(old="ridge", media="basket"))


def test_a_part_of_footage_is_put_in() -> None:
    table = Table()
    table.do(InsertClips(media=("ridge",), into=3 * S, length=2 * S))
    table.do(InsertClips(media=("ridge",), into=8 * S, length=60 * S))
    first, second = table.promo.clips
    assert (first.length, first.source.range(first.into, first.length)[0]) == (2 * S, 3 * S)
    assert second.length == 2 * S, "no more than there is"
    with pytest.raises(Refusal, match="not that long"):
        table.do(InsertClips(media=("ridge",), into=10 * S))


def test_fillers_for_missing_files_are_told_and_filled_again() -> None:
    table = Table()
    table.do(InsertClips(media=("ridge",)))
    table.do(InsertFiller(at=0))
    filler = table.promo.clips[0]
    assert missing(table.promo) == {}
    scene = table.promo.scenes[0]
    named = (filler.changed(name="basket.mp4"), *scene.clips[1:])
    table.promo = table.promo.changed(scenes=(scene.changed(clips=named),))
    assert missing(table.promo) == {filler.id: "basket.mp4"}
    table.do(FillMissing(fillers=(filler.id,), media=("basket",)))
    assert [(clip.media, clip.length) for clip in table.promo.clips] == [("basket", filler.length), ("ridge", 10 * S)]
    with pytest.raises(Refusal, match="filled already"):
        table.do(FillMissing(fillers=(filler.id,), media=("basket",)))
