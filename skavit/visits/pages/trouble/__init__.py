"""What is wrong with a unit, by what somebody saw of it."""
