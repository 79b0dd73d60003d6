"""What all tests share."""

from hypothesis import Phase, settings

# How long an example takes says something about the machine, not about the code. Every run tries
# the same examples, so that a change is judged by itself; new ones are looked for with
# `./jolly test --hypothesis-profile search`.
settings.register_profile("search", deadline=None)
# `--hypothesis-profile first` shows the first example that fails, and looks for no smaller one.
settings.register_profile("first", deadline=None, derandomize=True,
                          phases=[Phase.explicit, Phase.generate])
settings.register_profile("jolly", deadline=None, derandomize=True)
settings.load_profile("jolly")
