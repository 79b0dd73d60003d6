"""Traditional rhythms from published tables."""

from __future__ import annotations

from lattice.library.base import StartingRecipe, written

SPREAD_SOURCE = ("G. Toussaint, The Euclidean Algorithm Generates Traditional Musical Rhythms, "
                 "BRIDGES 2005")
CLAVE_SOURCE = ("G. Toussaint, A Mathematical Analysis of African, Brazilian, and Cuban Clave "
                "Rhythms, BRIDGES 2002")
GEOMETRY_SOURCE = "G. Toussaint, The Geometry of Musical Rhythm, CRC Press 2013"

_SPREADS = [
    ("Khafif-e-ramal", "Persian, thirteenth century",
     "Hi wood block: Spread 2 hits over 5 steps. Each lasts 60 %."),
    ("Cumbia", "Colombia",
     "Hi wood block: Spread 3 hits over 4 steps. Each lasts 60 %."),
    ("Ruchenitza", "Bulgarian dance in 2+2+3",
     "Hi wood block: Spread 3 hits over 7 steps. Each lasts 60 %."),
    ("Tresillo", "Cuba",
     "Hi wood block: Spread 3 hits over 8 steps. Each lasts 60 %."),
    ("Ruchenitza, longest first", "Bulgaria",
     "Hi wood block: Spread 4 hits over 7 steps. Each lasts 60 %."),
    ("Aksak", "Turkey, 2+2+2+3",
     "Hi wood block: Spread 4 hits over 9 steps. Each lasts 60 %."),
    ("Four in eleven", "3+3+3+2",
     "Hi wood block: Spread 4 hits over 11 steps. Each lasts 60 %."),
    ("York-samai", "Arab",
     "Hi wood block: Spread 5 hits over 6 steps. Each lasts 60 %."),
    ("Nawakhat", "Arab",
     "Hi wood block: Spread 5 hits over 7 steps. Each lasts 60 %."),
    ("Cinquillo", "Cuba",
     "Hi wood block: Spread 5 hits over 8 steps. Each lasts 60 %."),
    ("Agsag-samai", "Arab, 2+2+2+2+1",
     "Hi wood block: Spread 5 hits over 9 steps. Each lasts 60 %."),
    ("Five in eleven", "2+2+2+2+3",
     "Hi wood block: Spread 5 hits over 11 steps. Each lasts 60 %."),
    ("Venda", "clapping pattern, South Africa",
     "Hi wood block: Spread 5 hits over 12 steps. Each lasts 60 %."),
    ("Bossa, evenly spread", "Brazil",
     "Hi wood block: Spread 5 hits over 16 steps. Each lasts 60 %."),
    ("Bendir", "frame drum, Tuareg",
     "Hi wood block: Spread 7 hits over 8 steps. Each lasts 60 %."),
    ("Mpre bell", "Ashanti, Ghana",
     "Hi wood block: Spread 7 hits over 12 steps. Each lasts 60 %."),
    ("Samba", "Brazil",
     "Hi wood block: Spread 7 hits over 16 steps. Each lasts 60 %."),
    ("Ngbaka-Maibo", "Central African Republic",
     "Hi wood block: Spread 9 hits over 16 steps. Each lasts 60 %."),
    ("Aka", "Central Africa",
     "Hi wood block: Spread 11 hits over 24 steps. Each lasts 60 %."),
    ("Aka, upper Sangha", "Central Africa",
     "Hi wood block: Spread 13 hits over 24 steps. Each lasts 60 %."),
]
_CLAVES = [
    ("Son clave", "Cuba",
     "Claves: Play steps 1 4 7 11 13 by hand. Each lasts 60 %."),
    ("Rumba clave", "Cuba",
     "Claves: Play steps 1 4 8 11 13 by hand. Each lasts 60 %."),
    ("Shiko", "West Africa",
     "Claves: Play steps 1 5 7 11 13 by hand. Each lasts 60 %."),
    ("Soukous", "Central Africa",
     "Claves: Play steps 1 4 7 11 12 by hand. Each lasts 60 %."),
    ("Gahu", "Ghana",
     "Claves: Play steps 1 4 7 11 15 by hand. Each lasts 60 %."),
    ("Bossa-nova clave", "Brazil",
     "Claves: Play steps 1 4 7 11 14 by hand. Each lasts 60 %."),
]
_BELLS = [
    ("Bembé", "the standard bell",
     "Ride bell: Play steps 1 3 5 6 8 10 12 by hand, of 12 steps of 1/12. Each lasts 60 %."),
    ("Soli", "Guinea",
     "Ride bell: Play steps 1 3 5 7 8 10 12 by hand, of 12 steps of 1/12. Each lasts 60 %."),
    ("Tambú", "Curaçao",
     "Ride bell: Play steps 1 3 5 6 8 10 11 by hand, of 12 steps of 1/12. Each lasts 60 %."),
    ("Fume-fume", "Ghana",
     "Ride bell: Play steps 1 3 5 8 10 by hand, of 12 steps of 1/12. Each lasts 60 %."),
]

RHYTHMS: tuple[StartingRecipe, ...] = tuple(
    written(name, "traditional rhythms", about, text, source)
    for table, source in ((_SPREADS, SPREAD_SOURCE), (_CLAVES, CLAVE_SOURCE),
                          (_BELLS, GEOMETRY_SOURCE))
    for name, about, text in table)
