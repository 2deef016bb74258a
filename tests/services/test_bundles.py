"""Promos in and out of open bundles, and timelines from elsewhere."""

import io
import json
import zipfile
from pathlib import Path

import numpy as np
import opentimelineio as otio
import pytest
from click.testing import CliRunner
from sqlalchemy import select

from glowreel.cli import main, new_id
from glowreel.core.commands import AddWords, Context, Freeze, InsertFiller, SetSpeed, Trim, apply
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.demo.scenario import MEDIA, probed, write_demo_bundle
from glowreel.engine.probe import probe
from glowreel.engine.type import faces
from glowreel.engine.typesetting import measure
from glowreel.interchange.bundles import links, read, unpack
from glowreel.interchange.elsewhere import from_elsewhere
from glowreel.interchange.timelines import to_otio
from glowreel.services import brands, interchange, openings, promos
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, Opening
from tests.conftest import Folder, by
from tests.core.build import numbered
from tests.core.test_upgrade import golden
from tests.engine.build import promo_of
from tests.services.test_brand_sharing import with_own_font
from tests.services.test_promos import new_team


@pytest.fixture(scope="module")
def demo_bundle(workplace: Path) -> Path:
    path = workplace / "demo.otioz"
    write_demo_bundle(path)
    return path


class Sent:
    def __init__(self, path: Path) -> None:
        self.filename, self.path = path.name, path

    def save(self, dst: str) -> None:
        Path(dst).write_bytes(self.path.read_bytes())


def opened_from(runtime: Runtime, team: str, path: Path) -> Opening:
    """What became of a file that was sent, opened in this process as a worker does."""
    with runtime.database.unit() as unit:
        row = openings.start(runtime, unit, by(team), Sent(path))
        unit.forget()
    openings.carry_out(runtime, row.id)
    with runtime.database.unit() as unit:
        return openings.find(unit.session, row.id, by(team))


def plain(promo: Promo) -> dict[str, object]:
    """A promo without the identifiers that differ from team to team."""
    data = promo.model_dump(mode="json")
    names = {key: value["hash"] for key, value in data["media"].items()}

    def walk(value):
        if isinstance(value, dict):
            return {names.get(k, k): walk(v) for k, v in value.items()}
        if isinstance(value, list):
            return [walk(v) for v in value]
        return names.get(value, value) if isinstance(value, str) else value

    data.pop("id")
    return walk(data)


def promo_in(path: Path) -> Promo:
    with zipfile.ZipFile(path) as bundle:
        text = bundle.read("content.otio").decode()
    said = links(text).said
    return read(text, said.get, new_id, "p").promo


def test_a_promo_goes_out_and_comes_back_without_loss(runtime: Runtime, demo_bundle: Path) -> None:
    original = promo_in(demo_bundle)
    teams = [new_team(runtime), new_team(runtime)]
    first = opened_from(runtime, teams[0], demo_bundle)
    assert (first.state, first.error, first.notices) == ("done", "", [])
    with runtime.database.unit() as unit:
        promo = promos.open_promo(unit.session, first.promo_id, by(teams[0])).promo
        path, _ = interchange.save_bundle(runtime, unit.session, first.promo_id, by(teams[0]))
    # Facts about the files are measured when they come in, whatever the bundle says; all else is as it was.
    assert plain(promo) == {**plain(original), "media": plain(promo)["media"]}
    assert set(plain(promo)["media"]) == set(plain(original)["media"])
    again = opened_from(runtime, teams[1], path)
    with runtime.database.unit() as unit:
        opened = promos.open_promo(unit.session, again.promo_id, by(teams[1])).promo
        for format in opened.formats:
            for frame in range(0, timeline(promo).frame_count, 37):
                at = promo.rate.frame_start(frame)
                assert frame_recipe(opened, format, at, measure) == frame_recipe(promo, format, at, measure)
        assert plain(promos.open_promo(unit.session, again.promo_id, by(teams[1])).promo) == plain(promo)
        states = unit.session.scalars(select(MediaFile.state).where(MediaFile.team_id == teams[1])).all()
    assert set(states) == {"ready"}, "a promo was opened with files that nobody had looked at"


@pytest.mark.long
def test_a_bundle_that_says_other_things_of_its_files_than_they_are_is_refused(
    runtime: Runtime, demo_bundle: Path, tmp_path: Path
) -> None:
    forged = tmp_path / "forged.otioz"
    with zipfile.ZipFile(demo_bundle) as source, zipfile.ZipFile(forged, "w") as out:
        for member in source.infolist():
            data = source.read(member)
            if member.filename == "content.otio":
                found = json.loads(data)
                media = found["metadata"]["glowreel"]["promo"]["media"]
                next(m for m in media.values() if m["kind"] == "footage")["length"] *= 50
                data = json.dumps(found).encode()
            out.writestr(member, data)
    result = opened_from(runtime, new_team(runtime), forged)
    assert result.state == "failed"
    assert "is not what the promo in that bundle takes it for" in result.error


def test_a_brands_own_font_goes_along_and_is_drawn_with_anywhere(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    team, other = new_team(runtime), new_team(runtime)
    with runtime.database.unit() as unit:
        brand = brands.snapshot(brands.find(unit.session, with_own_font(runtime, team), by(team)))
        row = promos.create(unit.session, by(team), "In its own letters", ("wide",), brand)
        promos.edit(unit.session, row.id, by(team), InsertFiller())
        promos.edit(unit.session, row.id, by(team), AddWords(text="Fly at dawn"))
        path, _ = interchange.save_bundle(runtime, unit.session, row.id, by(team))
    opening = opened_from(runtime, other, path)
    assert opening.promo_id is not None, opening.error
    with runtime.database.unit() as unit:
        promo = promos.open_promo(unit.session, opening.promo_id, by(other)).promo
        (face,) = promo.brand.faces
        assert unit.session.get_one(MediaFile, face.media).team_id == other
        assert face.media in promo.media, "what is exported later knows where it lies"
        assert promo.brand.font("heading") == brand.font("heading")
    # From a terminal, it is drawn in the same letters as in those of the shipped family that it is.
    monkeypatch.setattr(faces, "_finders", [lambda source: None])
    own, shipped = (tmp_path / name for name in ("own.png", "shipped.png"))
    text = promo_in(path)
    plain = to_bundle(text.changed(brand=text.brand.changed(faces=())), path, tmp_path / "plain.otioz")
    for bundle, out in ((path, own), (plain, shipped)):
        result = CliRunner().invoke(main, ["frame", str(bundle), "-o", str(out), "--at", "1", "--height", "144"])
        assert result.exit_code == 0, result.output
    assert own.read_bytes() == shipped.read_bytes()


def to_bundle(promo: Promo, like: Path, out: Path) -> Path:
    """A bundle with another promo, and the files of one that there is."""
    with zipfile.ZipFile(like) as old, zipfile.ZipFile(out, "w") as new:
        new.writestr("content.otio", otio.adapters.write_to_string(to_otio(promo), "otio_json"))
        for name in old.namelist():
            if name != "content.otio":
                new.writestr(name, old.read(name))
    return out


def test_bundles_are_plain_opentimelineio_too(demo_bundle: Path) -> None:
    with zipfile.ZipFile(demo_bundle) as bundle:
        found = otio.adapters.read_from_string(bundle.read("content.otio").decode(), "otio_json")
        names = set(bundle.namelist())
    main_track = found.tracks[0]
    assert main_track.duration().to_seconds() == pytest.approx(20)
    assert [type(part).__name__ for part in main_track].count("Transition") == 3
    for clip in found.find_clips():
        assert clip.media_reference.target_url in names


def foreign_timeline() -> str:
    """A timeline as another program would write it: a cut, a gap, a dissolve, a start timecode, a lost file."""

    def span(start: float, length: float) -> otio.opentime.TimeRange:
        return otio.opentime.TimeRange(otio.opentime.RationalTime(start, 25), otio.opentime.RationalTime(length, 25))

    def clip(name: str, start: float, length: float, zero: float = 0) -> otio.schema.Clip:
        link = otio.schema.ExternalReference(f"file:///elsewhere/{name}", available_range=span(zero, 200))
        return otio.schema.Clip(name, link, span(start, length))

    result = otio.schema.Timeline("Elsewhere")
    track = otio.schema.Track("V1", kind="Video")
    half = otio.opentime.RationalTime(5, 25)
    track.extend([clip("landing.mp4", 25, 50), otio.schema.Gap(source_range=span(0, 25))])
    track.extend(
        [clip("over-the-fields.mp4", 90025, 75, 90000), otio.schema.Transition("x", "SMPTE_Dissolve", half, half)]
    )
    track.append(clip("gone.mov", 0, 25))
    sounds = otio.schema.Track("A1", kind="Audio")
    sounds.extend([otio.schema.Gap(source_range=span(0, 50)), clip("slow-ascent.m4a", 0, 100)])
    result.tracks.extend([track, sounds])
    return otio.adapters.write_to_string(result, "otio_json")


def test_a_timeline_from_elsewhere_opens_with_cuts_gaps_transitions_and_media() -> None:
    def find(url: str):
        path = MEDIA / url.rsplit("/", 1)[-1]
        return probed(path) if path.exists() else None

    found = read(foreign_timeline(), find, new_id, "p")
    promo, index = found.promo, timeline(found.promo)
    assert str(promo.rate) == "25"
    assert [(c.kind, c.length, c.begins) for c in promo.clips] == [
        ("footage", ticks(2), ticks(1)),
        ("filler", ticks(1), 0),
        ("footage", ticks(3), ticks(1)),
        ("filler", ticks(1), 0),
    ]
    assert (index.cuts[0].span.start, index.cuts[0].span.end) == (ticks(5.8), ticks(6.2))
    assert index.item_span(promo.sounds[0].items[0]).start == ticks(2)
    assert [c.read("fill") for c in promo.clips if c.kind == "filler"] == ["#000000", "#D9CFC0"]
    assert found.notices == ["“gone.mov” is missing; filler holds its place."]


def rich_timeline() -> str:
    """What other programs put into a timeline beside cuts."""

    def time(seconds: float) -> otio.opentime.RationalTime:
        return otio.opentime.RationalTime(seconds * 25, 25)

    def span(start: float, length: float) -> otio.opentime.TimeRange:
        return otio.opentime.TimeRange(time(start), time(length))

    def clip(name: str, start: float, length: float) -> otio.schema.Clip:
        return otio.schema.Clip(name, otio.schema.ExternalReference(f"file:///elsewhere/{name}"), span(start, length))

    fade = {"in_offset": time(0.2), "out_offset": time(0.2)}
    inside = otio.schema.Stack("Inside")
    inside_track = otio.schema.Track("V", kind="Video")
    inside_track.extend([clip("burner.mp4", 0, 2), clip("landing.mp4", 1, 2)])
    inside_sound = otio.schema.Track("A", kind="Audio")
    inside_sound.append(clip("slow-ascent.m4a", 5, 4))
    inside.extend([inside_track, inside_sound])
    inside.source_range = span(1, 2)
    off = clip("dawn-ridge.mp4", 0, 1)
    off.enabled = False
    blurred = clip("mist-valley.mp4", 0, 1)
    blurred.effects.append(otio.schema.Effect("Blur", "Blur"))
    blurred.markers.append(otio.schema.Marker("Look here", span(0.4, 0)))
    bare = otio.schema.Clip("picnic.jpg", otio.schema.ExternalReference("file:///elsewhere/picnic.jpg"))
    result = otio.schema.Timeline("Rich")
    main_track = otio.schema.Track("V1", kind="Video")
    main_track.extend([otio.schema.Transition("in", "SMPTE_Dissolve", **fade), clip("over-the-fields.mp4", 0, 2)])
    main_track.extend([inside, off, blurred, bare, otio.schema.Transition("out", "SMPTE_Dissolve", **fade)])
    upper = otio.schema.Track("V2", kind="Video")
    upper.extend([otio.schema.Gap(source_range=span(0, 1)), clip("basket-view.mp4", 0, 1)])
    result.tracks.markers.append(otio.schema.Marker("Start", span(0.2, 0)))
    result.tracks.extend([main_track, upper])
    return otio.adapters.write_to_string(result, "otio_json")


def test_what_other_programs_put_into_timelines_is_kept_or_told() -> None:
    def find(url: str):
        path = MEDIA / url.rsplit("/", 1)[-1]
        return probed(path) if path.exists() else None

    found = read(rich_timeline(), find, new_id, "p")
    promo, index = found.promo, timeline(found.promo)
    assert [(c.name, c.length) for c in promo.clips] == [
        ("over-the-fields.mp4", ticks(2)),
        ("burner.mp4", ticks(1)),  # The timeline inside, from its first second on.
        ("landing.mp4", ticks(1)),
        ("dawn-ridge.mp4", ticks(1)),
        ("mist-valley.mp4", ticks(1)),
        ("picnic.jpg", ticks(2)),
    ]
    assert [c.begins for c in promo.clips[1:3]] == [ticks(1), ticks(1)]
    assert (promo.clips[3].kind, promo.clips[3].read("fill")) == ("filler", "#000000"), "what is switched off is seen"
    assert (promo.opens.length, promo.closes.length) == (ticks(0.4), ticks(0.4))
    (layer,) = promo.layers[0].items
    for format in promo.formats:
        wide, high = format.canon
        longer = layer.read("size", format.id) * 1080
        assert longer >= wide - 1, format.id
        assert longer * 9 / 16 >= high - 1, "footage above does not fill the frame"
    (heard,) = promo.sounds[0].items
    assert (index.item_span(heard).start, heard.begins, heard.length) == (ticks(2), ticks(6), ticks(2))
    assert [(note.text, note.anchor.at) for note in promo.notes] == [("Start", ticks(0.2)), ("Look here", ticks(5.4))]
    assert found.notices == [
        "“dawn-ridge.mp4” was switched off and is not seen or heard.",
        "“mist-valley.mp4” has effects that could not be kept.",
        "1 timeline was inside this one and laid out flat.",
    ]


def test_hostile_bundles_are_refused(tmp_path: Path) -> None:
    path = tmp_path / "evil.otioz"
    with zipfile.ZipFile(path, "w") as bundle:
        bundle.writestr("content.otio", foreign_timeline())
        bundle.writestr("media/../../../escaped.txt", "x")
        bundle.writestr("/media/absolute.txt", "x")
    unpacked = unpack(path, tmp_path)
    assert unpacked.files == []
    assert not (tmp_path.parent / "escaped.txt").exists()
    (tmp_path / "text.otio").write_text("not json")
    with pytest.raises(Refusal, match="not an OpenTimelineIO"):
        links(unpack(tmp_path / "text.otio", tmp_path).text)
    broken = io.BytesIO()
    with zipfile.ZipFile(broken, "w") as bundle:
        bundle.writestr("other.txt", "x")
    (tmp_path / "none.otioz").write_bytes(broken.getvalue())
    with pytest.raises(Refusal, match="no timeline"):
        unpack(tmp_path / "none.otioz", tmp_path)


def test_the_program_renders_from_a_terminal_without_any_server(demo_bundle: Path, tmp_path: Path, monkeypatch) -> None:
    for name in ("GLOWREEL_DATABASE", "GLOWREEL_REDIS"):
        monkeypatch.setenv(name, "nowhere://")
    out = tmp_path / "out.mp4"
    result = CliRunner().invoke(
        main, ["render", str(demo_bundle), "-o", str(out), "--format", "tall", "--height", "144"]
    )
    assert result.exit_code == 0, result.output
    facts = probe(out, "out")
    assert (facts.width, facts.height, facts.length, facts.sounding) == (144, 256, ticks(20), True)
    frame = tmp_path / "frame.png"
    result = CliRunner().invoke(main, ["frame", str(demo_bundle), "-o", str(frame), "--at", "7", "--height", "144"])
    assert result.exit_code == 0, result.output
    assert probe(frame, "frame").width == 256
    heard = tmp_path / "mix.wav"
    result = CliRunner().invoke(main, ["sound", str(demo_bundle), "-o", str(heard)])
    assert result.exit_code == 0, result.output
    assert probe(heard, "mix").length == ticks(20)
    assert CliRunner().invoke(main, ["sound", str(demo_bundle), "-o", str(tmp_path / "mix.ogg")]).exit_code == 2
    (tmp_path / "bad.otioz").write_bytes(b"nothing")
    result = CliRunner().invoke(main, ["render", str(tmp_path / "bad.otioz"), "-o", str(out)])
    assert result.exit_code == 2
    assert "OpenTimelineIO" in result.output


def test_other_programs_see_which_part_runs_and_how_fast(library: Folder) -> None:
    clip = library.add(MEDIA / "dawn-ridge.mp4")
    promo = promo_of(clip)
    key = promo.clips[0].id
    context = Context(numbered("y"))
    promo = apply(promo, Trim(item=key, edge="start", length=ticks(6)), context).promo
    promo = apply(promo, SetSpeed(item=key, speed=2000, backwards=True), context).promo
    promo = apply(promo, Freeze(at=ticks(1), length=ticks(2)), context).promo
    timeline = to_otio(promo)
    clips = [p for p in timeline.tracks[0] if isinstance(p, otio.schema.Clip)]
    assert [part.source_range.duration.to_seconds() for part in clips] == pytest.approx([1, 2, 2])
    assert [part.effects[0].time_scalar for part in clips] == [-2, 0, -2]
    # Trimmed to its last six seconds and turned round: first what lies from 6 to 8 s, then what lies from 2 to 6 s.
    starts = [part.source_range.start_time.to_seconds() for part in clips]
    assert starts == pytest.approx([6, 6, 2], abs=0.05)
    carried = json.loads(otio.adapters.write_to_string(timeline, "otio_json"))["metadata"]["glowreel"]["promo"]
    assert Promo.model_validate(carried) == promo
    # Without the whole document that travels along, the open format alone brings the speeds back.
    timeline.metadata.clear()
    text = otio.adapters.write_to_string(timeline, "otio_json")
    again = from_elsewhere(text, lambda link: clip, numbered("z"), "again").promo
    assert [c.length for c in again.clips] == [c.length for c in promo.clips]
    ranges = [[c.source.range(c.into, c.length) for c in p.clips] for p in (again, promo)]
    assert np.allclose(ranges[0], ranges[1], atol=promo.rate.frame)
    assert [c.source.speed.constant for c in again.clips] == [2000, 0, 2000]


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"version": 0}, "does not say its version"),
        ({"version": -4}, "does not say its version"),
        ({"version": 99}, "newer Glow Reel"),
        ({"media": {"other": None}}, "damaged"),
    ],
)
def test_a_bundle_goes_through_the_same_upgrade_as_everything_stored(
    demo_bundle: Path, change: dict[str, object], sentence: str
) -> None:
    """A version there never was, a newer one, and media listed under another name than their own."""
    with zipfile.ZipFile(demo_bundle) as bundle:
        found = json.loads(bundle.read("content.otio"))
    promo = found["metadata"]["glowreel"]["promo"]
    if "media" in change:
        key, media = next(iter(promo["media"].items()))
        promo["media"]["other"] = {**media, "id": key}
    else:
        promo |= change
    with pytest.raises(Refusal, match=sentence):
        links(json.dumps(found))


def test_a_bundle_of_an_older_version_opens(demo_bundle: Path) -> None:
    with zipfile.ZipFile(demo_bundle) as bundle:
        found = json.loads(bundle.read("content.otio"))
    found["metadata"]["glowreel"]["promo"] = golden(2)
    assert links(json.dumps(found)).own
    said = links(json.dumps(found)).said
    assert read(json.dumps(found), said.get, new_id, "p").promo.rate_chosen
