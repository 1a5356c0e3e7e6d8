"""The findings of an evaluation by the names of what they are of, in figures of nine digits."""


def _digits(x):
    return None if x is None else float(f"{x:.9g}")


def told(core, found):
    samples = {s.id: s.label for s in core.samples}
    kept = (core.sweeps, core.setups, core.settings, core.instruments)
    sweeps, setups, settings, instruments = ({x.id: x.name for x in rows} for rows in kept)
    wording = {c.id: c.wording for c in core.claims}

    def window(w):
        f = w.finding
        state = [sweeps.get(w.sweep_id), setups.get(w.setup_id), settings.get(w.setting_id), w.round]
        worst = f.worst.swr if f and f.worst else None
        figures = [_digits(x) for x in (worst, f and f.u_gamma, f and f.probability)]
        seen = [w.name, w.verdict.value, w.reason, *state, instruments.get(w.instrument_id), *figures]
        return [*seen, list(w.beside), list(w.gates)]

    def emission(x):
        return [x.n, _digits(x.level_dbm), x.verdict.value, x.reason]

    return {
        "title": core.title,
        "claims": [
            [wording[f.claim_id], samples[f.sample_id], f.verdict.value, f.reason, [window(w) for w in f.windows]]
            for f in found.claims
        ],
        "usability": [[samples[u.sample_id], u.band, u.state.value, u.sentence] for u in found.usability],
        "emissions": [
            [e.rule_id, e.report.verdict.value, [emission(x) for x in (*e.report.harmonics, *e.report.spurious)]]
            for e in found.emissions
        ],
        "warnings": list(found.warnings),
        "checks": [list(c) for c in found.checks],
    }
