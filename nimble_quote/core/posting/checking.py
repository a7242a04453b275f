"""What is wrong with the texts of a post, for the place it goes to."""

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.counting import TextLimits, counted
from nimble_quote.core.posting.filling import unknown_names

_CALLED = {"title": "The title", "description": "The description", "alt": "The picture description"}


def text_faults(text: PostText, limits: TextLimits, place: str) -> list[str]:
    """Why a filled text can't be posted as it is, each with what to do."""
    out = []
    for one in counted(text, limits):
        if not one.over:
            continue
        if one.what == "tags":
            out.append(f"{one.length} tags, and {place} takes {one.most}. Remove {one.over}.")
        else:
            with_tags = (
                " with its tags" if one.what == "description" and text.tags and limits.tags_in_description else ""
            )
            out.append(
                f"{_CALLED[one.what]}{with_tags} is {one.over} over the {one.most} that {place} takes. Shorten it."
            )
    for name in unknown_names(text):
        out.append(f"{{{name}}} stands for nothing here. Remove it, or choose a name from the list.")
    if not (text.title.strip() or text.description.strip()):
        out.append("There is neither a title nor a description. Write one of them.")
    return out
