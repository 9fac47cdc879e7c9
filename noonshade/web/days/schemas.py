"""Request and response models of the simulated day and its what-if tests."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.needs.species import PlaceKind
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.results.models import Layer, PlanViewModel, SectionModel
from noonshade.web.evaluation.schemas import PlanViewRequest, SectionRequest
from noonshade.web.http.dates import Day

SeasonName = Literal["now", "winter", "summer"]


class DayRequest(Model):
    """A plan whose day is wanted, in one of its room's seasons."""

    document: PlanDocument
    season: SeasonName = "now"


class DayPlaceModel(Model):
    """A place over the day; every layer has one value a sample."""

    id: str
    label: str
    kind: PlaceKind
    air_c: Layer
    probe_c: Layer
    surface_c: Layer | None
    uvi: Layer
    relative_humidity: Layer


class DayFixtureModel(Model):
    """What one lamp or heater does in a day."""

    id: str
    label: str
    power: Layer
    duty: float
    on_h: float
    energy_kwh: float
    month_kwh: float
    month_cost: float


class DayThermostatModel(Model):
    """How hard a thermostat works."""

    id: str
    label: str
    reading_c: Layer
    switchings_per_h: float
    error_k: float | None


class DayResponse(Model):
    """A repeating day, sampled every ``sample_min`` minutes from midnight.

    Minutes are null where there is nothing to time; ``dry_min`` is null too where surfaces never dry.
    """

    season: SeasonName
    sample_min: float
    samples: int
    dawn_h: float
    dusk_h: float
    days: int
    room_c: Layer
    places: list[DayPlaceModel]
    fixtures: list[DayFixtureModel]
    thermostats: list[DayThermostatModel]
    energy_kwh: float
    month_kwh: float
    month_cost: float
    warm_up_min: float | None
    cool_down_min: float | None
    misted: bool
    dry_min: float | None
    energy_error: float
    vapour_error: float


class MomentRequest(Model):
    """Fields wanted for drawing at an hour of the day."""

    document: PlanDocument
    season: SeasonName = "now"
    hour: Annotated[float, Field(ge=0, le=24)]
    section: SectionRequest | None = None
    plan_view: PlanViewRequest | None = None


class MomentResponse(Model):
    """The fields at the nearest recorded half hour."""

    hour: float
    room_c: float
    section: SectionModel | None
    plan_view: PlanViewModel | None


class FailureScenarioModel(Model):
    """Something that may go wrong."""

    id: str
    label: str
    by_night: bool


class FailureScenariosResponse(Model):
    """Every what-if test that makes sense for a plan."""

    failure_scenarios: list[FailureScenarioModel]


class FailureScenarioRequest(Model):
    """One what-if test to run."""

    document: PlanDocument
    season: SeasonName = "now"
    failure_scenario_id: Annotated[str, Field(max_length=200)]


class FailurePlaceModel(Model):
    """What a place comes to; minutes are null where it stays safe."""

    id: str
    label: str
    lowest_c: float
    highest_c: float
    minutes_to_heat: float | None
    minutes_to_cold: float | None
    uvi_highest: float


class FailureOutcomeModel(Model):
    """The outcome of a what-if test."""

    id: str
    label: str
    by_night: bool
    safe_place: str | None
    always_somewhere: bool
    minutes_to_danger: float | None
    places: list[FailurePlaceModel]


class DayLength(Model):
    """Hours from sunrise to sunset."""

    hours: float


class DayLengthQuery(Model):
    """Where and when."""

    latitude: Annotated[float, Field(ge=-90, le=90, description="degrees, north positive")]
    date: Day
