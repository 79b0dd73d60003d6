"""Traditional rhythms from published tables: onsets counted from 0."""

from __future__ import annotations

from lattice.library.base import StartingRecipe

SPREAD_SOURCE = ("G. Toussaint, The Euclidean Algorithm Generates Traditional Musical Rhythms, "
                 "BRIDGES 2005")
CLAVE_SOURCE = ("G. Toussaint, A Mathematical Analysis of African, Brazilian, and Cuban Clave "
                "Rhythms, BRIDGES 2002")
GEOMETRY_SOURCE = "G. Toussaint, The Geometry of Musical Rhythm, CRC Press 2013"

_SPREADS = [
    ("Khafif-e-ramal", 2, 5, 0, "Persian, thirteenth century"), ("Cumbia", 3, 4, 0, "Colombia"),
    ("Ruchenitza", 3, 7, 0, "Bulgarian dance in 2+2+3"), ("Tresillo", 3, 8, 0, "Cuba"),
    ("Ruchenitza, longest first", 4, 7, 0, "Bulgaria"), ("Aksak", 4, 9, 0, "Turkey, 2+2+2+3"),
    ("Four in eleven", 4, 11, 0, "3+3+3+2"), ("York-samai", 5, 6, 0, "Arab"),
    ("Nawakhat", 5, 7, 0, "Arab"), ("Cinquillo", 5, 8, 0, "Cuba"),
    ("Agsag-samai", 5, 9, 0, "Arab, 2+2+2+2+1"), ("Five in eleven", 5, 11, 0, "2+2+2+2+3"),
    ("Venda", 5, 12, 0, "clapping pattern, South Africa"),
    ("Bossa, evenly spread", 5, 16, 0, "Brazil"), ("Bendir", 7, 8, 0, "frame drum, Tuareg"),
    ("Mpre bell", 7, 12, 0, "Ashanti, Ghana"), ("Samba", 7, 16, 0, "Brazil"),
    ("Ngbaka-Maibo", 9, 16, 0, "Central African Republic"),
    ("Aka", 11, 24, 0, "Central Africa"), ("Aka, upper Sangha", 13, 24, 0, "Central Africa"),
]
_CLAVES = [
    ("Son clave", 16, (0, 3, 6, 10, 12), "Cuba"), ("Rumba clave", 16, (0, 3, 7, 10, 12), "Cuba"),
    ("Shiko", 16, (0, 4, 6, 10, 12), "West Africa"),
    ("Soukous", 16, (0, 3, 6, 10, 11), "Central Africa"), ("Gahu", 16, (0, 3, 6, 10, 14), "Ghana"),
    ("Bossa-nova clave", 16, (0, 3, 6, 10, 13), "Brazil"),
]
_BELLS = [
    ("Bembé", 12, (0, 2, 4, 5, 7, 9, 11), "the standard bell"),
    ("Soli", 12, (0, 2, 4, 6, 7, 9, 11), "Guinea"),
    ("Tambú", 12, (0, 2, 4, 5, 7, 9, 10), "Curaçao"),
    ("Fume-fume", 12, (0, 2, 4, 7, 9), "Ghana"),
]

RHYTHMS: tuple[StartingRecipe, ...] = (
    *(StartingRecipe(name=name, group="traditional rhythms", about=about, source=SPREAD_SOURCE,
                     lane={"note": 76, "steps": steps, "gate": 60,
                           "rule": {"kind": "euclid", "pulses": pulses, "rotation": turn}})
      for name, pulses, steps, turn, about in _SPREADS),
    *(StartingRecipe(name=name, group="traditional rhythms", about=about, source=source,
                     lane={"note": note, "steps": steps, "step": step, "gate": 60,
                           "rule": {"kind": "hand", "hits": list(hits)}})
      for table, note, step, source in ((_CLAVES, 75, "1/16", CLAVE_SOURCE),
                                        (_BELLS, 53, "1/12", GEOMETRY_SOURCE))
      for name, steps, hits, about in table),
)
