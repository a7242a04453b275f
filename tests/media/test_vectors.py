"""Sentence vectors: what means alike is near, and weights that are missing or others are told."""

import importlib.metadata
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest

from nimble_quote.media import vectors
from nimble_quote.media.vectors import WIDTH, MeaningMissing, vectors_of, weights


@pytest.fixture
def forgotten() -> Iterator[None]:
    """The weights looked for anew, before the test and after it."""
    weights.cache_clear()
    yield
    weights.cache_clear()


def test_what_means_alike_is_near_and_order_and_company_change_nothing():
    texts = ["He gave back what he owed, every penny.", "Repaying a debt", "The soil was full of worms. " * 60, ""]
    found = vectors_of(texts)
    assert found.shape == (4, WIDTH)
    assert np.linalg.norm(found, axis=1) == pytest.approx(1, abs=1e-4)
    alike = found @ found.T
    assert alike[0, 1] > 0.4 > alike[0, 2]
    assert (vectors_of(texts[1:2])[0] * found[1]).sum() == pytest.approx(1, abs=0.01)
    assert vectors_of([]).shape == (0, WIDTH)


def test_a_package_that_is_not_there_is_named(monkeypatch: pytest.MonkeyPatch, forgotten: None):
    monkeypatch.setattr(vectors, "_PACKAGE", "no-such-weights")
    with pytest.raises(MeaningMissing, match="install the package no-such-weights"):
        weights()


def test_weights_other_than_those_tried_are_not_used(monkeypatch: pytest.MonkeyPatch, forgotten: None, tmp_path: Path):
    other = tmp_path / "model.onnx"
    other.write_bytes(b"something else")

    class Listed:
        name = "model.onnx"

        def locate(self) -> Path:
            return other

    monkeypatch.setattr(vectors, "files", lambda name: [Listed()])
    with pytest.raises(MeaningMissing, match="are not those that were tried"):
        weights()
    assert importlib.metadata.files is not vectors.files
