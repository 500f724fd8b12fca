"""Have the search compiled before anybody waits for it."""

from __future__ import annotations

from zonatome.core.lay.compiled_folder import is_all_compiled, say_all_is_compiled


def prepare() -> None:
    """Compile what is not compiled yet, in about a minute; costs nothing where it is."""
    if is_all_compiled():
        return
    from zonatome.core.lay.precompile import precompile  # noqa: PLC0415 a second and a hundred megabytes: only where it is wanted

    precompile()
    say_all_is_compiled()


if __name__ == "__main__":
    prepare()
