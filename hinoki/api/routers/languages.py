"""The languages that the screens can be read in."""

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import BaseModel

from hinoki.api.routers.projects import Shared
from hinoki.api.shared.strict_route import Heeding
from hinoki.store.languages import Language, languages, sentences

FOLDER = "languages"
"""of the data folder: where makers put catalogues"""
router = APIRouter(prefix="/api/languages", route_class=Heeding)


class LanguagesView(BaseModel):
    """The languages besides English, and where more of them are put."""

    languages: list[Language]
    folder: str


@router.get("")
def all_languages(state: Shared) -> LanguagesView:
    """The languages there are besides English."""
    folder = state.folder / FOLDER
    return LanguagesView(languages=languages(folder), folder=str(folder))


@router.get("/{language}")
def language_sentences(language: Annotated[str, Path(max_length=20)], state: Shared) -> dict[str, str]:
    """What Hinoki says in a language, by what it says in English; `{0}` stands for what changes."""
    return sentences(state.folder / FOLDER, language)
