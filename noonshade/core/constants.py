"""Constants of physics and of the calendar, and properties of air, used by more than one module."""

GRAVITY_M_S2 = 9.80665  # standard gravity (ISO 80000-3)
STEFAN_BOLTZMANN_W_M2K4 = 5.670374419e-8  # CODATA 2018
KELVIN_AT_0_C = 273.15
AIR_DENSITY_KG_M3 = 1.19  # dry air at 23 °C and 101.3 kPa, ideal gas law
AIR_HEAT_CAPACITY_J_KGK = 1006.0  # dry air near room temperature
AIR_VOLUMETRIC_J_M3K = AIR_DENSITY_KG_M3 * AIR_HEAT_CAPACITY_J_KGK
DISCHARGE_COEFFICIENT = 0.6  # sharp-edged opening, the usual textbook value
DAYS_PER_MONTH = 365.2425 / 12.0  # mean month of the Gregorian calendar
