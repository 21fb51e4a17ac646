"""JSON merge patch (RFC 7396): what a change says, put onto what there is."""

from typing import Any


def merged(target: Any, patch: Any) -> Any:
    """Return a value with a patch put onto it: null removes, objects are merged, all else is put in
    its place.

    >>> merged({"a": "b", "c": {"d": "e", "f": "g"}}, {"a": "z", "c": {"f": None}})
    {'a': 'z', 'c': {'d': 'e'}}
    """
    if not isinstance(patch, dict):
        return patch
    result = dict(target) if isinstance(target, dict) else {}
    for name, value in patch.items():
        if value is None:
            result.pop(name, None)
        else:
            result[name] = merged(result.get(name), value)
    return result
