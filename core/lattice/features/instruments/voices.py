"""The voices that ship."""

from lattice.features.instruments.base import Instrument

BELL = Instrument(10, "voice", "bell", "struck metal, long", {"strike": 45, "ring": 60, "hum": 35})
PLUCK = Instrument(20, "voice", "pluck", "a plucked string", {"bright": 55, "ring": 50, "body": 40})
BASS = Instrument(30, "voice", "bass", "low and round",
                  {"bright": 40, "punch": 45, "growl": 20, "glide": 0})
PAD = Instrument(40, "voice", "pad", "slow and wide",
                 {"bright": 40, "swell": 35, "fade": 45, "drift": 30})
REED = Instrument(50, "voice", "reed", "blown, nasal",
                  {"bright": 50, "breath": 20, "swell": 15, "glide": 0})
GLASS = Instrument(60, "voice", "glass", "rubbed glass, thin",
                   {"bright": 45, "ring": 70, "shimmer": 30})
