"""The lamp and species library: the keeper's own entries beside the shipped ones."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from noonshade.catalog import Catalog
from noonshade.core.design.shells import Stock
from noonshade.core.needs.species import Species
from noonshade.core.plan import Lamp, Screen
from noonshade.formats.lamp_document import LampDocument, lamp_from_document, parse_lamp
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.species_document import SpeciesDocument, parse_species, species_from_document
from noonshade.store.errors import NotFoundError
from noonshade.store.library import LibraryRecord, LibraryStore

D = TypeVar("D")
T = TypeVar("T")


class _Own(Generic[D, T]):
    """The keeper's own entries of one kind, parsed once for each revision."""

    def __init__(self, store: LibraryStore, parse: Callable[[str], D], make: Callable[[D], T]) -> None:
        self.store, self._parse, self._make = store, parse, make
        self._parsed: dict[tuple[str, int], tuple[D, T]] = {}

    def clear(self) -> None:
        """Drop what was parsed, after the data were replaced."""
        self._parsed.clear()

    def all(self) -> dict[str, tuple[LibraryRecord, D, T]]:
        """Every entry by id."""
        found = {}
        for record in self.store.all():
            key = (record.id, record.revision)
            if key not in self._parsed:
                document = self._parse(record.document)
                self._parsed[key] = (document, self._make(document))
            found[record.id] = (record, *self._parsed[key])
        return found


class Library:
    """The keeper's own lamps and species beside the shipped ones."""

    def __init__(self, catalog: Catalog, lamps: LibraryStore, species: LibraryStore) -> None:
        self.catalog = catalog
        self.lamp_store = lamps
        self.species_store = species
        self._own_lamps = _Own(lamps, parse_lamp, lamp_from_document)
        self._own_species = _Own(species, parse_species, species_from_document)
        # How often the data were replaced.
        self.generation = 0

    def clear(self) -> None:
        """Drop what was parsed, after the data were replaced."""
        self.generation += 1
        self._own_lamps.clear()
        self._own_species.clear()

    def own(self) -> dict[str, tuple[LibraryRecord, LampDocument, Lamp]]:
        """Every own lamp by id: as stored, as a document, and as the core takes it."""
        return self._own_lamps.all()

    def own_lamps(self) -> dict[str, Lamp]:
        """Own lamps by id."""
        return {key: lamp for key, (_, _, lamp) in self.own().items()}

    def lamps(self) -> dict[str, Lamp]:
        """Shipped and own lamps by id."""
        return {**self.catalog.lamps, **self.own_lamps()}

    def lamp(self, lamp_id: str) -> Lamp:
        """A lamp by its id; NotFoundError if there is none."""
        known = self.lamps()
        if lamp_id not in known:
            raise NotFoundError("lamp", lamp_id)
        return known[lamp_id]

    def screen(self, screen_id: str) -> Screen:
        """A mesh or pane by its id; NotFoundError names the known ones."""
        screens: dict[str, Screen] = {**self.catalog.meshes}
        screens |= {key: m for key, m in self.catalog.materials.items() if m.is_pane}
        if screen_id not in screens:
            known = ", ".join(sorted(screens))
            raise NotFoundError("screen", screen_id, f"{screen_id!r}; known: {known}")
        return screens[screen_id]

    def one_species(self, species_id: str) -> Species:
        """A species by its id; NotFoundError if there is none."""
        known = self.species()
        if species_id not in known:
            raise NotFoundError("species", species_id)
        return known[species_id]

    def stock(self) -> Stock:
        """Everything a proposal may use."""
        return Stock(self.catalog.materials, self.catalog.meshes, self.lamps())

    def own_species(self) -> dict[str, tuple[LibraryRecord, SpeciesDocument, Species]]:
        """Every own species, and own view of a shipped one, by id."""
        return self._own_species.all()

    def species(self) -> dict[str, Species]:
        """Shipped and own species by id; an own view goes before the shipped one."""
        own = {key: species for key, (_, _, species) in self.own_species().items()}
        return {**self.catalog.species, **own}

    def packed(self, document: PlanDocument) -> PlanDocument:
        """A plan with the own lamps and species it uses inside: complete wherever it is opened."""
        own = self.own()
        used = {f.lamp_id for f in document.fixtures}
        brought = {lamp.id: lamp for lamp in document.lamps if lamp.id in used}
        brought |= {key: own[key][1] for key in sorted(used & own.keys())}
        kinds = self.own_species()
        wanted = document.animal.species_id
        species = document.species if document.species and document.species.id == wanted else None
        if wanted in kinds:
            species = kinds[wanted][1]
        return document.model_copy(update={"lamps": list(brought.values()), "species": species})
