"""Take the photos of the sample workroom's old covers anew with the bench camera's stand-in.

python bench/sample_photos.py
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zonatome.web.settings")


def main() -> None:
    """Write one JPEG for each."""
    import django

    django.setup()
    from zonatome.standins.bench_camera import photograph
    from zonatome.web.demo.sample import MAT, photo_file, tags

    for number, key, shot in [(tag.number, key, shot) for tag in tags() for key, shot in tag.shots.items()]:
        file = photo_file(number, key)
        file.parent.mkdir(exist_ok=True)
        file.write_bytes(photograph(shot, MAT)[0])
        print(file.name, f"{file.stat().st_size / 1e3:.0f} kB")


if __name__ == "__main__":
    main()
