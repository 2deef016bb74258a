"""The promo itself, its scenes and formats, and every command against what is not there."""

import pytest

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE
from glowreel.core.timeline import timeline
from tests.core.build import S, Table, sets


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field", "basket")))
    return table


def test_names_are_tidied_and_never_empty(table: Table) -> None:
    table.do(c.Rename(name="  Lantern \n weekend "))
    assert table.promo.name == "Lantern weekend"
    with pytest.raises(Refusal, match="needs a name"):
        table.do(c.Rename(name="   "))


def test_formats_are_added_once_and_one_always_stays(table: Table) -> None:
    table.do(c.AddFormat(format="cinema"))
    assert [f.id for f in table.promo.formats] == [*FIRST_CHOICE, "cinema"]
    with pytest.raises(Refusal, match="already"):
        table.do(c.AddFormat(format="cinema"))
    with pytest.raises(Refusal, match="Choose from wide"):
        table.do(c.AddFormat(format="round"))
    for format in ("wide", "square", "tall"):
        table.do(c.RemoveFormat(format=format))
    with pytest.raises(Refusal, match="at least one format"):
        table.do(c.RemoveFormat(format="cinema"))


def test_a_place_made_for_a_format_is_kept_while_the_format_is_away(table: Table) -> None:
    title = table.do(c.AddWords()).select[0]
    table.do(c.PlaceItem(item=title, format="tall", x=0.1, y=0.1, width=0.5, height=0.2, only=True))
    table.do(c.RemoveFormat(format="tall"))
    assert "tall" in timeline(table.promo).item[title].values_in
    with pytest.raises(Refusal, match="no longer in the promo"):
        table.do(c.PlaceItem(item=title, format="tall", x=0, y=0, width=1, height=1))


def test_scenes_are_named_broken_and_joined(table: Table) -> None:
    second, third = table.promo.clips[1].id, table.promo.clips[2].id
    table.do(c.BreakScene(clip=second))
    table.do(c.BreakScene(clip=third))
    assert [[clip.name for clip in scene.clips] for scene in table.promo.scenes] == [["ridge"], ["field"], ["basket"]]
    table.do(c.RenameScene(scene=table.promo.scenes[1].id, name="Flight"))
    spans = timeline(table.promo).scene_span
    assert [spans[s.id].start / S for s in table.promo.scenes] == [0, 10, 16]
    with pytest.raises(Refusal, match="begins with this clip already"):
        table.do(c.BreakScene(clip=third))
    with pytest.raises(Refusal, match="no scene after"):
        table.do(c.JoinScene(scene=table.promo.scenes[2].id))
    table.do(c.JoinScene(scene=table.promo.scenes[0].id))
    assert [scene.name for scene in table.promo.scenes] == ["Scene 1", "Scene 3"]


def test_moving_a_clip_into_another_scene_makes_it_part_of_that(table: Table) -> None:
    first, second, _ = (clip.id for clip in table.promo.clips)
    table.do(c.BreakScene(clip=second))
    table.do(c.MoveClips(clips=(first,), before=None))
    assert [[clip.name for clip in scene.clips] for scene in table.promo.scenes] == [["field", "basket", "ridge"]]


def test_a_transition_can_be_changed_and_taken_away(table: Table) -> None:
    first = table.promo.clips[0].id
    table.do(c.SetTransition(after=first))
    kept = table.promo.transitions[0].id
    table.do(c.SetTransition(after=first, kind="dip-black", length=2 * S))
    assert [(t.id, t.kind, t.length) for t in table.promo.transitions] == [(kept, "dip-black", 2 * S)]
    table.do(c.RemoveTransition(after=first))
    assert table.promo.transitions == ()
    with pytest.raises(Missing):
        table.do(c.RemoveTransition(after=first))


def test_holding_to_clip_time_or_the_whole_keeps_a_layer_where_it_is(table: Table) -> None:
    title = table.do(c.AddWords(at=11 * S)).select[0]
    for to in ("time", "clip", "time"):
        table.do(c.TieItem(item=title, to=to))
        index = timeline(table.promo)
        assert index.item_span(index.item[title]).start == 11 * S
    table.do(c.TieItem(item=title, to="whole"))
    with pytest.raises(Refusal, match="whole promo"):
        table.do(c.MoveItem(item=title, at=S))
    empty = Table()
    lone = empty.do(c.AddWords()).select[0]
    with pytest.raises(Refusal, match="no clip under"):
        empty.do(c.TieItem(item=lone, to="clip"))


def test_titles_alone_make_a_promo_as_long_as_they_last() -> None:
    table = Table()
    table.do(c.AddWords(at=2 * S, length=3 * S))
    assert timeline(table.promo).length == 5 * S


GONE = [
    c.MoveClips(clips=("gone",)), c.Trim(item="gone", length=S),
    c.Remove(items=("gone",)), c.SplitAt(item="gone", at=S), c.Join(item="gone"),
    sets("gone", text="x"), c.Reset(items=("gone",)), c.CopyLook(source="gone", items=("gone",)),
    c.MoveItem(item="gone", at=0),
    c.TieItem(item="gone", to="time"),
    c.PlaceItem(item="gone", format="wide", x=0, y=0, width=1, height=1),
    c.PinItems(items=("gone",), format="wide", spot=(0, 0)), c.AddPoint(item="gone", name="opacity", at=0),
    c.SetPoint(item="gone", name="opacity", at=0), c.MovePoint(item="gone", name="opacity", at=0, to=S),
    c.RemovePoint(item="gone", name="opacity", at=0), c.AddEffect(items=("gone",), effect="blur"),
    c.RemoveEffect(item="gone", effect="e"), c.MoveEffect(item="gone", effect="e", by=1),
    c.AddDesign(design="gone"), c.MarkSlot(item="gone", label="x"), c.UnmarkSlot(slot="gone"),
    c.FillSlot(slot="gone", text="x"), c.FillPicture(item="gone", name="first", media="ridge"),
    c.SetTransition(after="gone"),
    c.RemoveTransition(after="gone"), c.RenameScene(scene="gone", name="x"), c.BreakScene(clip="gone"),
    c.JoinScene(scene="gone"),
    c.RemoveFormat(format="gone"), c.InsertClips(media=("gone",)), c.AddPicture(media="gone"), c.AddSound(media="gone"),
    c.InsertClips(media=("ridge",), before="gone"), c.InsertFiller(before="gone"),
    c.Overwrite(media="gone", at=0), c.Replace(item="gone", media="ridge"), c.RollCut(after="gone", by=S),
    c.Slip(item="gone", by=S), c.CloseGap(track="gone"), c.SetSpeed(item="gone", speed=2000),
    c.SetCurve(item="gone", preset="rush"), c.DetachSound(clip="gone"), c.AttachSound(clip="gone"),
    c.MoveItems(items=("gone",), by=S), c.TrimBy(items=("gone",), by=S), c.TrimTo(items=("gone",), length=S),
    c.Group(items=("gone", "too")),
    c.Paste(fragment={"media": {"gone": {"id": "gone", "kind": "photo", "name": "x", "hash": "0" * 64}}}),
    c.Duplicate(items=("gone",)), c.SetTrack(track="gone", muted=True), c.MoveTrack(track="gone", by=1),
    c.RemoveTrack(track="gone"), c.StepTrack(item="gone", by=1), c.MoveScene(scene="gone"),
    c.InsertScene(beside="gone"), c.RemoveScene(scene="gone"), c.LeaveOut(scene="gone"),
    c.CopyFormat(format="gone"), c.SetFormat(format="gone", name="x"), c.MoveFormat(format="gone"),
    c.AimView(item="gone", format="wide", at=0, focus=(0.5, 0.5)),
    c.CopyChanges(format="gone", to="wide"), c.ToRule(format="gone"),
    c.SetSceneLength(scene="gone", length=S),
    c.SetNote(note="gone", text="x"),
    c.AlignItems(items=("gone",), format="wide", edge="left"), c.OrderItems(items=("gone",), to="front"),
    c.SpreadItems(items=("gone",), format="wide", axis="across"), c.SetGround(scene="gone",
    values={"ground": "colour"}),
    c.SizeItems(items=("gone",), format="wide", how="fill"), c.ToLayer(clip="gone", format="wide"),
    c.ToMain(item="gone"), c.PutBehind(item="gone", media="ridge"), c.FrameClip(item="gone", format="wide", x=0, y=0,
    width=1, height=1),
    c.PanZoom(items=("gone",), preset="push-in"), c.PunchIn(clip="gone", at=S),
    c.PushOver(item="gone", at=S), c.AddAdjustment(scene="gone"), c.Balance(items=("gone",)),
    c.Stagger(items=("gone",), by=S), c.StyleWords(items=("gone",), style="price"), c.KeepStyle(item="gone"),
    c.SwitchDesign(item="gone", design="burst"), c.AddShape(form="gone"),
    c.AddCollage(grid="gone"), c.FillCell(item="gone", cell="k"), c.SwapCells(item="gone", cell="k", other="l"),
    c.ArrangeCells(item="gone", grid="two"), c.MoveDivider(item="gone", format="wide"), c.FitCollage(item="gone"),
    c.FreeCollage(item="gone"), c.TakeApart(item="gone"), c.PlaceCalm(items=("gone",)),
    c.DismissCheck(check="size", part="gone", reason="no"), c.RunSound(item="gone", runs="round"),
    c.WriteDown(media="gone"), c.CorrectWords(media="gone", language="en", first=0),
    c.MarkWords(media="gone", language="en", numbers=(1,), mark="cue"), c.BringBack(before="gone", behind="gone"),
    c.LayVoice(media=("gone",)),
    c.RoughCut(media="gone", stretches=((0, 1),)), c.TypeWords(media="gone", language="en", text="x"),
    c.TimeWords(media="gone", language="en", first=0, count=1, start=0, end=900),
    c.SetCaptions(lane="gone", shown=True), c.RemoveCaptions(lane="gone"), c.AddCue(lane="gone", at=0, length=S,
    text="x"), c.SetCue(lane="gone", cue="gone"), c.RemoveCue(lane="gone", cue="gone"),
    c.SayCue(lane="gone", cue="gone:1", text="x"),
    c.PlaceCaptions(lane="gone", media="ridge", first=0, last=1),
    c.LayRoomTone(item="gone"), c.CutToBeat(music="gone"), c.MarkMoments(music="gone"), c.StepHalf(item="gone", at=S),
    c.LayTake(media="gone", at=0), c.LayRecording(screen="gone"),
    c.LayPages(turns=({"media": "gone"},)), c.ReplaceEverywhere(old="ridge", media="gone"),
    c.FillMissing(fillers=("gone",), media=("ridge",)),
]  # fmt: skip


@pytest.mark.parametrize("command", GONE, ids=lambda command: command.do)
def test_what_is_gone_is_missed_in_a_sentence(table: Table, command: c.Command) -> None:
    before = table.promo
    with pytest.raises(Missing) as caught:
        table.do(command)
    assert caught.value.sentence.endswith(".")
    assert table.promo is before


def test_every_command_that_names_something_is_in_that_list() -> None:
    free = {c.AddWords, c.AddFormat, c.Rename, c.AddNote, c.RemoveRange, c.Freeze, c.SetEdge, c.SetAllTransitions}
    free |= {c.SetRate, c.SetBus, c.AddSticker, c.SwitchBrand, c.WearPalette, c.SetFacts, c.SetChannels,
             c.SetWhole}  # fmt: skip
    # Words are named by where they are heard; where nothing is written down, that is said first.
    free |= {c.RemoveWords, c.CutPauses, c.MoveWords, c.AddCaptions, c.TakeCues, c.ReplaceInWords}
    commands = {getattr(c, name) for name in dir(c) if isinstance(getattr(c, name), type)}
    commands = {k for k in commands if issubclass(k, c.Command) and k is not c.Command}
    assert commands - free == {type(command) for command in GONE}


def test_fields_a_newer_version_added_survive(table: Table) -> None:
    data = table.promo.model_dump(mode="json")
    data["mood"] = "calm"
    data["scenes"][0]["clips"][0]["grade"] = {"warmth": 0.2}
    again = Promo.model_validate(data)
    table.promo = again
    table.do(c.Trim(item=again.clips[0].id, length=2 * S))
    kept = table.promo.model_dump(mode="json")
    assert kept["mood"] == "calm"
    assert kept["scenes"][0]["clips"][0]["grade"] == {"warmth": 0.2}
