"""Finding and keeping: every query is scoped by a team, every change is whole or not at all."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from sqlalchemy import Integer, Select, bindparam, exists, func, insert, inspect, literal, or_, select, union_all
from sqlalchemy.orm import Session, joinedload, selectinload, sessionmaker
from sqlalchemy.orm.attributes import set_committed_value

from levelmoor.core.model.rule_sets import usual_rules
from levelmoor.core.words.counting import counted
from levelmoor.records import tables as t
from levelmoor.records.bench import rows_of
from levelmoor.records.database import now

T = TypeVar("T")
EVALUATIONS_A_PAGE = 100
MOST_WORDS = 8


def setting(maker: sessionmaker[Session], name: str, default: str) -> str:
    """A setting shared by all application servers, kept at its first use; of two that are kept at once the first."""
    with maker.begin() as session:
        session.execute(insert(t.Setting).prefix_with("IGNORE").values(name=name, value=default))
    with maker() as session:
        return session.get_one(t.Setting, name).value


@dataclass(frozen=True)
class Page(Generic[T]):
    """A page of a list: its rows, its number from 1, and whether more follow."""

    rows: Sequence[T]
    number: int
    more: bool


def page_of(session: Session, query: Select[T], number: int, most: int) -> Page[T]:
    """One page of a query's rows; one row more is asked for to know whether another page follows."""
    number = min(max(number, 1), 100_000)
    rows = session.scalars(query.offset((number - 1) * most).limit(most + 1)).all()
    return Page(rows[:most], number, len(rows) > most)


def evaluations(
    session: Session, team_id: int, words: str = "", verdict: str = "", number: int = 1
) -> Page[t.Evaluation]:
    """The team's evaluations, the latest first; `words` in product, maker or title, `verdict` the worst one."""
    query = (
        select(t.Evaluation)
        .join(t.Product)
        .where(t.Evaluation.team_id == team_id, t.Evaluation.deleted_at.is_(None))
        .options(joinedload(t.Evaluation.product), selectinload(t.Evaluation.samples))
        .order_by(t.Evaluation.updated_at.desc(), t.Evaluation.id.desc())
    )
    for word in words[:200].split()[:MOST_WORDS]:
        columns = (t.Product.name, t.Product.maker, t.Evaluation.title)
        query = query.where(or_(*(c.contains(word, autoescape=True) for c in columns)))
    if verdict:
        query = query.where(t.Evaluation.worst_verdict == verdict)
    return page_of(session, query, number, EVALUATIONS_A_PAGE)


def with_claims(session: Session, team_id: int, but: int, most: int = 30) -> Sequence[tuple[int, str]]:
    """The team's other evaluations that have claims, the latest first: id, product and how many."""
    count = func.count(t.Claim.id)
    query = (
        select(t.Evaluation.id, t.Product.name, count)
        .join(t.Product)
        .join(t.Claim, t.Claim.evaluation_id == t.Evaluation.id)
        .where(t.Evaluation.team_id == team_id, t.Evaluation.id != but, t.Evaluation.deleted_at.is_(None))
        .where(t.Claim.deleted_at.is_(None))
        .group_by(t.Evaluation.id, t.Product.name)
        .order_by(t.Evaluation.id.desc())
        .limit(most)
    )
    return [(i, f"{name}, {counted(n, 'claim')}") for i, name, n in session.execute(query)]


def evaluation(session: Session, team_id: int, evaluation_id: int) -> t.Evaluation | None:
    """One evaluation of the team. What hangs on it is read once it is asked for, each kind in one query; the
    instruments are the team's: they come with its bench."""
    return session.scalar(
        select(t.Evaluation)
        .where(t.Evaluation.id == evaluation_id, t.Evaluation.team_id == team_id, t.Evaluation.deleted_at.is_(None))
        .options(joinedload(t.Evaluation.product))
    )


_PARTS = {r.key: r.mapper.class_ for r in inspect(t.Evaluation).relationships if r.uselist}


_WHOSE = bindparam("evaluation_id", type_=Integer)
_THERE = union_all(*(select(literal(k)).where(exists().where(m.evaluation_id == _WHOSE)) for k, m in _PARTS.items()))


def know_what_is_not_there(session: Session, row: t.Evaluation) -> None:
    """Ask once which kinds of parts an evaluation has: of what it has none, nothing is asked any more. For pages that
    are only looked at: what is added to the database afterwards does not show in the row."""
    there = set(session.connection().execute(_THERE, {"evaluation_id": row.id}).scalars())
    for name in _PARTS.keys() - there:
        set_committed_value(row, name, [])


def open_evaluation(session: Session, team: t.Team, product: str, maker: str = "", sample: str = "") -> t.Evaluation:
    """A new evaluation with a sample, a setup and an instrument on the bench: a file can be dropped at once."""
    at = now()
    row = t.Evaluation(
        team_id=team.id,
        product=t.Product(team_id=team.id, name=product, maker=maker),
        region=team.region,
        rule=team.rule,
        profile=team.profile,
        profile_limit=team.profile_limit,
        bench_rule=team.bench_rule,
        age_limit_h=team.age_limit_h,
        wishes={},
        plan_seen={},
        opened_rounds={},
        rule_ids=usual_rules(team.region),
        wanted_hz=[],
        report_sections=[],
        created_at=at,
        updated_at=at,
        card={},
    )
    row.samples.append(t.Sample(label=sample or "Sample 1"))
    row.setups.append(t.Setup(name="As the maker says"))
    owned = rows_of(session, team.id, "instrument")
    instrument = owned[0] if owned else t.Instrument(team_id=team.id, name="Analyzer", description="analyzer, one port")
    session.add_all([row, instrument])
    session.flush()
    row.bench_sample_id, row.bench_setup_id = row.samples[0].id, row.setups[0].id
    row.bench_instrument_id = instrument.id
    return row


def published(session: Session, evaluation_id: int) -> int:
    """How many revisions of its report stand published."""
    revisions = select(func.count(t.ReportRevision.id)).join(t.Report).where(t.Report.evaluation_id == evaluation_id)
    return session.scalar(revisions) or 0


def report_of(session: Session, evaluation_id: int) -> t.Report | None:
    query = select(t.Report).where(t.Report.evaluation_id == evaluation_id)
    return session.scalar(query.options(selectinload(t.Report.revisions)))


def report_at(session: Session, slug: str) -> t.Report | None:
    query = select(t.Report).where(t.Report.slug == slug)
    return session.scalar(query.options(selectinload(t.Report.revisions)))
