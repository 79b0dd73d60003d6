"""Recordings as musicians have them, written by a library that is not ours."""

import hashlib
import io
from typing import Any

import numpy as np
import soundfile


def recording(kind: str = "WAV", hertz: float = 440.0, seconds: float = 0.5,
              loudness: float = 0.5, silent: float = 0) -> bytes:
    """A steady tone as a file, after so many `silent` seconds: WAV, FLAC, OGG or MP3."""
    times = np.arange(round(seconds * 44_100)) / 44_100
    tone = loudness * np.sin(2 * np.pi * hertz * times)
    file = io.BytesIO()
    soundfile.write(file, np.concatenate([np.zeros(round(silent * 44_100)), tone]), 44_100,
                    format=kind)
    return file.getvalue()


def digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def keep(musician: Any, data: bytes, name: str | None = None) -> tuple[int, Any]:
    """Status and answer of keeping a recording, under its own SHA-256 or another name."""
    answer = musician.client.put(f"/api/sounds/{name or digest(data)}", data=data,
                                 content_type="application/octet-stream")
    return answer.status_code, answer.json()
