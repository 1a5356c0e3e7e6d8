"""Every page of the demo, many times, by HTTP: python -m benchmarks.pages, with ./start running."""

import http.cookiejar
import re
import statistics
import time
import urllib.parse
import urllib.request

from levelmoor.demo import scenario

ADDRESS = "http://127.0.0.1:8080"
ROUNDS = 30


def signed_in() -> urllib.request.OpenerDirector:
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
    token = re.search(r'csrf_token[^>]*value="([^"]+)', _get(opener, "/sign-in"))
    fields = {"csrf_token": token[1] if token else "", "email": scenario.PEOPLE[0][0], "password": scenario.PASSWORD}
    opener.open(f"{ADDRESS}/sign-in", urllib.parse.urlencode(fields).encode()).close()
    return opener


def _get(opener: urllib.request.OpenerDirector, path: str) -> str:
    with opener.open(ADDRESS + path) as answer:
        return str(answer.read().decode())


def main() -> None:
    opener = signed_in()
    evaluations = re.findall(r'href="(/e/\d+)"', _get(opener, "/"))
    report = re.findall(r'href="(/r/[^"]+)"', _get(opener, "/reports"))[0]
    paths = ["/", *evaluations, f"{evaluations[0]}/report", report, "/reports", "/help", "/team"]
    every: list[float] = []
    for path in paths:
        times = []
        for _ in range(ROUNDS):
            start = time.perf_counter()
            _get(opener, path)
            times.append((time.perf_counter() - start) * 1e3)
        every += times
        cuts = statistics.quantiles(times, n=20)
        print(f"{path:<20} median {statistics.median(times):6.1f} ms, 95 % under {cuts[-1]:6.1f} ms")
    under = sum(t < 100 for t in every) / len(every)
    print(f"all pages: {100 * under:.1f} % under 100 ms, 95 % under {statistics.quantiles(every, n=20)[-1]:.1f} ms")


if __name__ == "__main__":
    main()
