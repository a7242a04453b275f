"""All that the finder learned of a language, as it ships."""

from nimble_quote.core.model import Frozen
from nimble_quote.core.soundbites.merits import Weights
from nimble_quote.core.soundbites.worth import WorthModel


class FinderModel(Frozen):
    """What signs make a sentence worth posting, what features make a span, and how well both did on talks that they were not
    learned from."""

    language: str
    worth: WorthModel
    weights: Weights
    figures: dict[str, float]
