"""Random edits of what is said and of its captions."""

from __future__ import annotations

from itertools import pairwise

from hypothesis import strategies as st
from hypothesis.stateful import invariant, rule

from glowreel.core import commands as c
from glowreel.core.captions.designs import CAPTION_DESIGNS
from glowreel.core.captions.shown import cues, spoken_for
from glowreel.core.speech.heard import heard, silent, voiced_parts
from glowreel.core.speech.transcript import MARKS
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from tests.core.edits.base import (
    Editing,
    lengths,
    pick,
    times,
)


class Words(Editing):
    def said(self, n: int) -> str:
        words = heard(self.table.promo)
        return words[n % len(words)].key if words else "nothing:0"

    @rule(n=pick, other_n=pick, music=st.sampled_from(["cut", "stays"]))
    def cut_by_words(self, n: int, other_n: int, music: str) -> None:
        self.do(c.WriteDown(media=("ridge", "field", "basket", "song")[n % 4]))
        before = timeline(self.table.promo)
        self.do(c.RemoveWords(words=(self.said(n), self.said(n + 1), self.said(other_n)), music=music))
        after = timeline(self.table.promo)
        # Once the last picture has gone, a promo lasts as long as what is heard beyond it.
        assert after.length <= before.length or (before.main_length and not after.main_length)
        self.do(c.CutPauses(words=(self.said(other_n),), to=100))
        self.do(c.MoveWords(words=(self.said(n),), before=self.said(other_n), copy_them=bool(n % 2)))
        for gap in silent(self.table.promo)[: n % 2]:
            self.do(c.BringBack(before=gap.before, behind=gap.behind))
        if n % 6 == 0:
            self.do(c.LayVoice(media=("song", "song"), at=ticks(n), by_scene=bool(other_n % 2), instead=n % 4 == 0))
        if n % 5 == 0:
            self.do(c.RoughCut(media="ridge", stretches=((0, 2), (7, 9)), instead=bool(other_n % 2)))

    @rule(n=pick, other_n=pick, start=st.integers(0, 6000))
    def words_otherwise(self, n: int, other_n: int, start: int) -> None:
        media = ("ridge", "field", "basket", "song")[n % 4]
        first = other_n % 11
        self.do(c.CorrectWords(media=media, language="en", first=first, count=1 + n % 3, text="Hollowmere or so"[:n]))
        self.do(c.MarkWords(media=media, language="en", numbers=(first,), mark=list(MARKS)[n % len(MARKS)]))
        self.do(c.TimeWords(media=media, language="en", first=first, count=1, start=start, end=start + 40 * n))
        self.do(c.ReplaceInWords(language="en", find="dawn", by="dusk" if n % 2 else "early dawn"))
        if n % 7 == 0:
            self.do(c.TypeWords(media=media, language="en", text="Dawn flights over every valley. Come with us."))

    def lane(self, n: int) -> str:
        lanes = self.table.promo.captions
        return lanes[n % len(lanes)].id if lanes else "nothing"

    @rule(n=pick, other_n=pick, at=times, length=lengths, design=st.sampled_from(list(CAPTION_DESIGNS)))
    def captions(self, n: int, other_n: int, at: int, length: int, design: str) -> None:
        self.do(c.AddCaptions(design=design))
        self.do(
            c.TakeCues(language=("de", "en")[n % 2], cues=((at, at + length, "Über dem Tal"), (0, at + 1, "[Wind]")))
        )
        lane = self.lane(n)
        self.do(c.SetCaptions(lane=lane, design=design, values={"size": 0.05 + n / 500}, shown=bool(other_n % 3)))
        self.do(c.SetCaptions(lane=lane, format="tall", values={"pin": (0.5, 0.4)}, late=10 * n))
        self.do(c.PlaceCaptions(lane=lane, media="ridge", first=n, last=other_n, height=0.2 if n % 2 else None))
        self.do(c.AddCue(lane=lane, at=at, length=length, text="[laughs]"))
        own = [cue.id for one in self.table.promo.captions if one.id == lane for cue in one.cues] or ["nothing"]
        self.do(c.SetCue(lane=lane, cue=own[n % len(own)], at=at // 2, text="[claps]"))
        if n % 3 == 0:
            self.do(c.RemoveCue(lane=lane, cue=own[other_n % len(own)]))
        named = [cue.name for one in self.table.promo.captions if one.id == lane for cue in cues(self.table.promo, one)]
        text = ("So it\nbegins here", "dawn", "")[n % 3]
        self.do(c.SayCue(lane=lane, cue=named[other_n % len(named)] if named else "nothing:0", text=text))
        if n % 9 == 0:
            self.do(c.RemoveCaptions(lane=lane))

    @invariant()
    def captions_show_what_is_heard(self) -> None:
        """Exactly the words that are heard, in order, each while it is heard: looked up the other way round, from the
        promo's time to the file's."""
        promo = self.table.promo
        index = timeline(promo)
        parts = {part.id: (part, start) for part, start, _ in voiced_parts(promo)}
        for lane in promo.captions:
            shown = [one for cue in cues(promo, lane) for one in cue.words]
            heard_now = spoken_for(promo, lane)
            assert sorted(one.key for one in shown) == sorted(one.key for one in heard_now)
            assert [cue.start for cue in cues(promo, lane)] == sorted(cue.start for cue in cues(promo, lane))
            for key in parts:
                of_part = [[one for one in few if one.part == key] for few in (shown, heard_now)]
                assert of_part[0] == of_part[1], "what one voice says comes in its order"
            if all(a.end <= b.start for a, b in pairwise(heard_now)):
                assert shown == heard_now
            for one in shown:
                part, start = parts[one.part]
                at = part.source.exact(part.into + one.start - start)
                inside = one.start > start and one.end < min(index.length, start + part.length)
                assert not inside or abs(at - one.word.start * ticks(0.001)) <= ticks(0.06)
