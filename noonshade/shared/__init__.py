"""Tables that the front end uses too; copied into it by ``make schemas``."""
