"""Units that water: their page, stations and programs, supply and rules."""
