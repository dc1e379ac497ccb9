"""People, crews and roles: who may see and change what."""
