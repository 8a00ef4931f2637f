"""The languages that the screens can be read in."""

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import BaseModel, Field

from hinoki.api.routers.projects import Shared
from hinoki.api.shared.strict_route import Heeding
from hinoki.store.languages import languages, sentences

FOLDER = "languages"
"""of the data folder: where makers put catalogues"""
router = APIRouter(prefix="/api/languages", route_class=Heeding)


class LanguageView(BaseModel):
    """A language, its own name for itself, and how much of Hinoki its catalogue says."""

    code: str
    name: str
    share: float = Field(description="of Hinoki's sentences, 0 to 1")
    problem: str = Field(description="why its catalogue cannot be used; empty where it can")


class LanguagesView(BaseModel):
    """The languages besides English, and where more of them are put."""

    languages: list[LanguageView]
    folder: str


@router.get("")
def all_languages(state: Shared) -> LanguagesView:
    """The languages there are besides English."""
    folder = state.folder / FOLDER
    found = [LanguageView(code=one.code, name=one.name, share=one.share, problem=one.problem) for one in languages(folder)]
    return LanguagesView(languages=found, folder=str(folder))


@router.get("/{language}")
def language_sentences(language: Annotated[str, Path(max_length=20)], state: Shared) -> dict[str, str]:
    """What Hinoki says in a language, by what it says in English; `{0}` stands for what changes."""
    return sentences(state.folder / FOLDER, language)
