"""Heat: radiation on surfaces, the air and surface network, and thermostats at steady state."""
