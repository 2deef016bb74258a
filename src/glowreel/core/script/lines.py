"""A script: lines, each with what it is for, and what stands large of it.

```
text ── sentences ── what each is for: hook, point, proof, offer, call ── a key phrase of each
```
By rule, from the words alone. Everything is proposed: a person changes what is not right.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from glowreel.core.captions.keywords import is_key
from glowreel.core.errors import Refusal
from glowreel.core.speech.transcript import plain, word_set
from glowreel.core.speech.voices import spoken_seconds

MOST_LINES, MOST_LETTERS = 24, 260
ROLES: dict[str, str] = {
    "hook": "what makes people stop",
    "point": "why it matters",
    "proof": "what somebody says of it, or shows it",
    "offer": "what it costs, until when",
    "call": "what to do now",
}
"""What a line is for."""
SENTENCE = re.compile(r"(?<=[.!?…])[\"”’)]*\s+(?=[^\sa-zà-öø-ÿ.])|\n+")
PRICE = re.compile(r"[€$£¥]\s?\d[\d.,]*|\d[\d.,]*\s?(?:€|euros?|dollars?|pounds?|%|percent)", re.IGNORECASE)
LINK = re.compile(r"\b(?:https?://)?(?:[a-z0-9-]+\.)+[a-z]{2,}(?:/\S*)?", re.IGNORECASE)
CALLS = word_set(
    "book order call visit come join try start get buy save sign write ask shop discover reserve follow click tap"
    " subscribe register download apply send"
)
OFFERS = word_set("free price offer only until off discount voucher costs cost from sale save half gift deal per")
PROOFS = word_set(
    "said says told love loved review reviews guests customers stars rated award since years trusted people"
)
STOP = word_set(
    "a an the and or but so of to in on at by for with from as is are was were be been it its this that these those we"
    " our you your they their i my me us he she his her not no do does did have has had will would can could if than"
    " then there here who which what when where how all any every each more most very just also into over under about"
)


@dataclass(frozen=True)
class ScriptLine:
    """A line: what is said, what it is for, and the words of it that stand large."""

    text: str
    role: str
    key: str

    @property
    def seconds(self) -> float:
        """How long it takes to be said."""
        return spoken_seconds(self.text)


def sentences_of(text: str) -> list[str]:
    """A text in sentences; marks of lists go, and what is very long is broken at its clauses."""
    made: list[str] = []
    for piece in SENTENCE.split(text.replace("\r", "\n")):
        bare = re.sub(r"^\s*(?:[-*•·–]|\d{1,2}[.)])\s*", "", piece or "").strip()
        bare = " ".join(bare.split())
        if any(letter.isalnum() for letter in bare):
            made += _short(bare)
    return made


def _short(sentence: str) -> list[str]:
    if len(sentence) <= MOST_LETTERS:
        return [sentence]
    cut = max((sentence.rfind(mark, 40, MOST_LETTERS) for mark in (", ", "; ", ": ", " – ")), default=-1)
    at = cut + 1 if cut > 0 else sentence.rfind(" ", 40, MOST_LETTERS)
    at = at if at > 0 else MOST_LETTERS
    return [sentence[:at].strip(), *_short(sentence[at:].strip())]


def read(text: str) -> list[ScriptLine]:
    """A text as lines of a script. Raises `Refusal` where there is nothing to be said, or far too much."""
    found = sentences_of(text)
    if not found:
        raise Refusal("no-text", "There is nothing in this text to be said.", "Paste a few sentences.")
    if len(found) > 400:
        raise Refusal("too-long", "This text has more than 400 sentences.", "Paste the part that matters.")
    roles = roles_of(found)
    return [ScriptLine(one, role, key_phrase(one, role)) for one, role in zip(found, roles, strict=True)]


def roles_of(sentences: Sequence[str]) -> list[str]:
    """What each sentence is for: the first is the hook, the last that asks for something the call."""
    roles = ["point"] * len(sentences)
    for place, sentence in enumerate(sentences):
        words = {plain(word) for word in sentence.split()}
        quoted = sentence.count("“") or sentence.count('"') >= 2
        if PRICE.search(sentence) or len(words & OFFERS) >= 2:
            roles[place] = "offer"
        elif quoted or len(words & PROOFS) >= 2:
            roles[place] = "proof"
    if len(sentences) > 1:
        asks = [n for n, one in enumerate(sentences) if n and _asks(one)]
        last = asks[-1] if asks else len(sentences) - 1
        if last == len(sentences) - 1 or asks:
            roles[last] = "call"
    roles[0] = "hook"
    return roles


def _asks(sentence: str) -> bool:
    first = plain(sentence.split()[0])
    return first in CALLS or bool(LINK.search(sentence))


def key_phrase(sentence: str, role: str, most: int = 40) -> str:
    """The words of a sentence that stand large: what is short, all of it; else the run of words that says most."""
    bare = sentence.strip().rstrip(".,;:")
    if len(bare) <= most:
        return bare
    words = bare.split()
    best, chosen = -1.0, words[:4]
    for start in range(len(words)):
        for end in range(start + 2, min(len(words), start + 7) + 1):
            run = words[start:end]
            if len(" ".join(run)) > most:
                break
            score = sum(_telling(word) for word in run) - 0.5 * len(run)
            score -= 1.0 * (plain(run[-1]) in STOP) + 0.6 * (plain(run[0]) in STOP)
            # What follows belongs to it, unless a clause ends or a small word leads on.
            goes_on = end < len(words) and not run[-1].endswith((",", ";", ":")) and plain(words[end]) not in STOP
            score -= 2.2 * goes_on
            # A clause by itself reads better than a piece of one.
            score += 0.9 * (start == 0 or words[start - 1].endswith((",", ";", ":"))) + 0.4 * run[-1].endswith(
                (",", ";")
            )
            if score > best:
                best, chosen = score, run
    said = " ".join(chosen).strip(" ,;:–")
    return said[:1].upper() + said[1:]


def _telling(word: str) -> float:
    bare = plain(word)
    if not bare or bare in STOP:
        return 0.0
    return 1.0 + 0.8 * is_key(word) + 0.5 * word[:1].isupper() + min(0.5, len(bare) / 20)


def shortened(lines: Sequence[ScriptLine], seconds: float) -> list[ScriptLine]:
    """The lines that fit into so many seconds: hook and call stay, and of the others those that are nearest to what the
    whole is about (by the words that they share with it), in their order."""
    keep = {n for n, line in enumerate(lines) if line.role in ("hook", "call")}
    weights = central([line.text for line in lines])
    bonus = {"offer": 0.25, "proof": 0.1}
    order = sorted(
        (n for n in range(len(lines)) if n not in keep),
        key=lambda n: -(weights[n] + bonus.get(lines[n].role, 0.0)) / max(1.0, lines[n].seconds) ** 0.5,
    )
    used = sum(lines[n].seconds for n in keep)
    for number in order:
        if used + lines[number].seconds <= seconds:
            keep.add(number)
            used += lines[number].seconds
    return [line for n, line in enumerate(lines) if n in keep][:MOST_LINES]


def central(sentences: Sequence[str], rounds: int = 30) -> list[float]:
    """How near each sentence is to what all are about: a random walk between sentences that share words (LexRank,
    Erkan and Radev 2004), weights rare words more. They sum to one."""
    bags = [Counter(stem for word in one.split() if (stem := stemmed(word))) for one in sentences]
    if not bags:
        return []
    seen = Counter(stem for bag in bags for stem in bag)
    likeness = [[_alike(one, other, seen) if one is not other else 0.0 for other in bags] for one in bags]
    sums = [sum(row) or 1.0 for row in likeness]
    count = len(bags)
    weights = [1 / count] * count
    for _ in range(rounds):
        weights = [
            0.15 / count + 0.85 * sum(weights[m] * likeness[m][n] / sums[m] for m in range(count)) for n in range(count)
        ]
    total = sum(weights) or 1.0
    return [weight / total for weight in weights]


def _alike(one: Counter[str], other: Counter[str], seen: Counter[str]) -> float:
    common = sum(min(one[stem], other[stem]) / seen[stem] for stem in one.keys() & other.keys())
    return float(common / (1 + len(one) + len(other)) ** 0.5)


def stemmed(word: str) -> str:
    """A word without its endings, in small letters; empty for words that say nothing by themselves."""
    bare = plain(word)
    if not bare or bare in STOP:
        return ""
    for ending in ("ings", "ing", "ies", "ers", "er", "ed", "es", "s", "ly"):
        if bare.endswith(ending) and len(bare) - len(ending) >= 3:
            return bare[: -len(ending)] + ("y" if ending == "ies" else "")
    return bare
