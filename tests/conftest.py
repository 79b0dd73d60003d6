"""What all tests share."""

from hypothesis import settings

# How long an example takes says something about the machine, not about the code.
settings.register_profile("jolly", deadline=None)
settings.load_profile("jolly")
