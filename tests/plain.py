"""Requests without TLS: reading the machine's certificates would be most of what each takes."""

from functools import partial

import httpx2

__all__ = ["Client", "delete", "get", "patch", "post", "put"]

get = partial(httpx2.get, verify=False)
post = partial(httpx2.post, verify=False)
put = partial(httpx2.put, verify=False)
patch = partial(httpx2.patch, verify=False)
delete = partial(httpx2.delete, verify=False)
Client = partial(httpx2.Client, verify=False)
