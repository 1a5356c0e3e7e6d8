"""Every page of the demo, many times, by HTTP, and a changed cell: python -m benchmarks.pages [ADDRESS], with ./start
running. Bytes are as they come over the line, compressed."""

import gzip
import http.cookiejar
import json
import re
import statistics
import sys
import time
import urllib.parse
import urllib.request

from levelmoor.demo import scenario

ADDRESS = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8080"
ROUNDS = 30


Opener = urllib.request.OpenerDirector
WIDE = {"name": "screen", "value": "wide", "path": "/", "domain": "127.0.0.1", "version": 0, "port": None,
        "port_specified": False, "domain_specified": False, "domain_initial_dot": False, "path_specified": True,
        "secure": False, "expires": None, "discard": True, "comment": None, "comment_url": None,
        "rest": {}}  # fmt: skip
"""A browser whose scripts have said how wide it is."""


def signed_in() -> Opener:
    jar = http.cookiejar.CookieJar()
    jar.set_cookie(http.cookiejar.Cookie(**WIDE))  # type: ignore[arg-type]
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    token = re.search(r'csrf_token[^>]*value="([^"]+)', _get(opener, "/sign-in"))
    fields = {"csrf_token": token[1] if token else "", "email": scenario.PEOPLE[0][0], "password": scenario.PASSWORD}
    opener.open(f"{ADDRESS}/sign-in", urllib.parse.urlencode(fields).encode()).close()
    return opener


def _ask(opener: Opener, path: str, fields: dict[str, str] | None = None, **headers: str) -> tuple[str, int]:
    """The answer's text, and its bytes on the line."""
    data = urllib.parse.urlencode(fields).encode() if fields else None
    asked = urllib.request.Request(ADDRESS + path, data, {"Accept-Encoding": "gzip", **headers})  # noqa: S310
    with opener.open(asked) as answer:
        raw = answer.read()
        packed = answer.headers.get("Content-Encoding") == "gzip"
        return (gzip.decompress(raw) if packed else raw).decode(), len(raw)


def _get(opener: Opener, path: str) -> str:
    return _ask(opener, path)[0]


def changed_cell(opener: Opener, evaluation: str) -> None:
    """A claim's limit changed to and fro, with what the page has told, as the page's own script does."""
    page = _get(opener, evaluation)
    have = dict(re.findall(r'id="([\w-]+)" data-part="(\w+)"', page))
    token = re.search(r'X-CSRFToken": "([^"]+)', page)
    for claim in re.findall(r'id="claim-(\d+)"', page):
        opened = _get(opener, f"{evaluation}/open/claim-{claim}")
        if limits := re.findall(r'id="claim-\d+-limit"[^>]*value="([^"]+)"', opened):
            break
    else:
        print(f"{evaluation} has no claim with a limit to change")
        return
    limit = limits[0]
    have |= dict(re.findall(r'id="([\w-]+)" data-part="(\w+)"', opened))
    state = dict(re.findall(r'name="(sweep|claim|view|part)" value="([^"]*)"', page))
    times, sizes = [], []
    for n in range(ROUNDS):
        value = limit if n % 2 else f"{float(limit) + 0.1:g}"
        fields = {**state, "value": value, "have": json.dumps(have)}
        headers = {"HX-Request": "true", "Levelmoor-Opened": f"claim-{claim}", "X-CSRFToken": token[1] if token else ""}
        start = time.perf_counter()
        text, size = _ask(opener, f"{evaluation}/cell/claim/{claim}/limit", fields, **headers)
        times.append((time.perf_counter() - start) * 1e3)
        sizes.append(size)
        have |= dict(re.findall(r'id="([\w-]+)" data-part="(\w+)"', text))
    print(f"a changed limit      median {statistics.median(times):6.1f} ms, {statistics.median(sizes) / 1e3:.1f} kB")


def main() -> None:
    opener = signed_in()
    evaluations = re.findall(r'href="(/e/\d+)"', _get(opener, "/"))
    report = re.findall(r'href="(/r/[^"]+)"', _get(opener, "/reports"))[0]
    paths = ["/", *evaluations, f"{evaluations[0]}/report", report, "/reports", "/help", "/team"]
    every: list[float] = []
    for path in paths:
        times, size = [], 0
        for _ in range(ROUNDS):
            start = time.perf_counter()
            size = _ask(opener, path)[1]
            times.append((time.perf_counter() - start) * 1e3)
        every += times
        cuts = statistics.quantiles(times, n=20)
        print(
            f"{path:<20} median {statistics.median(times):6.1f} ms, 95 % under {cuts[-1]:6.1f} ms, {size / 1e3:.1f} kB"
        )
    under = sum(t < 100 for t in every) / len(every)
    for evaluation in evaluations[:5]:
        changed_cell(opener, evaluation)
    print(f"all pages: {100 * under:.1f} % under 100 ms, 95 % under {statistics.quantiles(every, n=20)[-1]:.1f} ms")


if __name__ == "__main__":
    main()
