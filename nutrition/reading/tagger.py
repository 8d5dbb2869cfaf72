"""The line tagger (ingredient-parser-nlp), loaded without what it never uses.

It asks NLTK for a tagger, a stemmer and a chunk parser; importing all of NLTK takes scipy.stats and a hundred modules
more with it, three quarters of the start. So NLTK's packages stand bare here, and only the modules that are used load
in them; scipy is kept out while they do (NLTK falls back by itself). The tagger's data ships with the tables.
"""

import functools
import importlib
import importlib.machinery
import importlib.util
import json
import sys
import types
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from nutrition.tables import TABLES

_MODEL = "averaged_perceptron_tagger_eng"
#: NLTK's packages whose own __init__ is not run.
_BARE = ("nltk", "nltk.tag", "nltk.corpus", "nltk.stem", "nltk.chunk", "nltk.metrics", "nltk.parse")
#: Package -> what it offers, and the module that has it; in an order in which each finds what it needs.
_OFFERS = (
    ("nltk.metrics", "accuracy", "nltk.metrics.scores"),
    ("nltk.metrics", "ConfusionMatrix", "nltk.metrics.confusionmatrix"),
    ("nltk", "Tree", "nltk.tree"),
    ("nltk.parse", "ParserI", "nltk.parse.api"),
    ("nltk.tag", "str2tuple", "nltk.tag.util"),
    ("nltk.tag", "tuple2str", "nltk.tag.util"),
    ("nltk.tag", "untag", "nltk.tag.util"),
    ("nltk.tag", "TaggerI", "nltk.tag.api"),
    ("nltk.tag", "PerceptronTagger", "nltk.tag.perceptron"),
    ("nltk", "PerceptronTagger", "nltk.tag.perceptron"),
    ("nltk", "RegexpParser", "nltk.chunk.regexp"),
)


def _bare_package(name: str, folder: str) -> None:
    package = types.ModuleType(name)
    package.__path__ = [str(Path(folder, *name.split(".")[1:]))]
    package.__spec__ = importlib.machinery.ModuleSpec(name, None, is_package=True)
    sys.modules[name] = package
    parent, _, leaf = name.rpartition(".")
    if parent:
        setattr(sys.modules[parent], leaf, package)


@contextmanager
def _without_scipy() -> Iterator[None]:
    """Nobody inside finds scipy, unless somebody loaded it before."""
    hidden = [name for name in ("scipy", "scipy.stats") if name not in sys.modules]
    sys.modules.update(dict.fromkeys(hidden))
    try:
        yield
    finally:
        for name in hidden:
            del sys.modules[name]


def _tag(tokens: list[str], tagset: None = None, tagger: Any = None, lang: str = "eng") -> list[tuple[str, str]]:
    """nltk.tag's own function for English without a tagset."""
    return tagger.tag(tokens)


@functools.cache
def tagger() -> Callable[[str], Any]:
    """The tagger's `parse_ingredient`; a second or two at the first call of a process."""
    with _without_scipy():
        if "nltk" not in sys.modules:
            _load_what_is_used()
        _use_our_data()
        return importlib.import_module("ingredient_parser").parse_ingredient


def _read_plainly(tagger: Any, lang: str = "eng", loc: None = None) -> None:
    """In place of NLTK's reader, which guards against hostile files for a second and more: this file is ours."""
    with zipfile.ZipFile(TABLES / "nltk" / "taggers" / f"{_MODEL}.zip") as model:
        parts = (json.loads(model.read(f"{_MODEL}/{_MODEL}.{name}.json")) for name in ("weights", "tagdict", "classes"))
        tagger.decode_json_params(parts)


def _load_what_is_used() -> None:
    spec = importlib.util.find_spec("nltk")
    for name in _BARE:
        _bare_package(name, next(iter(spec.submodule_search_locations)))
    sys.modules["nltk.corpus"].stopwords = None
    for package, name, module in _OFFERS:
        setattr(sys.modules[package], name, getattr(importlib.import_module(module), name))
    sys.modules["nltk.tag"]._pos_tag = _tag
    sys.modules["nltk.tag"].PerceptronTagger.load_from_json = _read_plainly


def _use_our_data() -> None:
    """The data's folder must be on NLTK's path before the tagger is imported, or it asks the network for it."""
    data = importlib.import_module("nltk.data")
    folder = str(TABLES / "nltk")
    if folder not in data.path:
        data.path.insert(0, folder)
