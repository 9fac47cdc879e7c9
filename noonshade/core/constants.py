"""Constants of physics, the calendar and instruments, and properties of air, used by several modules."""

GRAVITY_M_S2 = 9.80665  # standard gravity (ISO 80000-3)
STEFAN_BOLTZMANN_W_M2K4 = 5.670374419e-8  # CODATA 2018
KELVIN_AT_0_C = 273.15
AIR_DENSITY_KG_M3 = 1.19  # dry air at 23 °C and 101.3 kPa, ideal gas law
AIR_HEAT_CAPACITY_J_KGK = 1006.0  # dry air near room temperature
AIR_VOLUMETRIC_J_M3K = AIR_DENSITY_KG_M3 * AIR_HEAT_CAPACITY_J_KGK
DISCHARGE_COEFFICIENT = 0.6  # sharp-edged opening, the usual textbook value
DAYS_PER_MONTH = 365.2425 / 12.0  # mean month of the Gregorian calendar
# International yard and pound agreement, 1959.
INCH_M = 0.0254
OUNCE_G = 28.349523125
# A quart of the United States, litres.
QUART_L = 0.946352946
# Degrees Fahrenheit: 1.8 of them for each kelvin, 32 at 0 °C.
FAHRENHEIT_PER_K = 1.8
FAHRENHEIT_AT_0_C = 32.0
# Diameter of a temperature probe's bead, m: that of common thermistors in a sleeve. Estimate.
BEAD_M = 0.006
