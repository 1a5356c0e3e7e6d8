"""Addresses of the API, each declared once: what it answers, what it can be asked with; and OpenAPI made from that.

References
----------
.. [1] OpenAPI Specification 3.1.0.
"""

import inspect
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import wraps
from typing import Any

from flask import Blueprint, Response, request
from pydantic import BaseModel
from pydantic.json_schema import models_json_schema

from levelmoor.web.api.answers import Problem
from levelmoor.web.api.rate import within_rate

VERSION = "1.0"
FRESH_S = 60


@dataclass(frozen=True)
class Parameter:
    """One thing an address can be asked with."""

    name: str
    says: str
    values: Sequence[str] = ()


@dataclass(frozen=True)
class Endpoint:
    """One address: what it answers with is a model, or a kind of file."""

    rule: str
    says: str
    answers: type[BaseModel] | str
    asked: Sequence[Parameter] = field(default_factory=tuple)

    @property
    def path(self) -> str:
        """The address as OpenAPI writes it."""
        return re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", self.rule)

    @property
    def places(self) -> list[str]:
        return re.findall(r"{(\w+)}", self.path)


class Described:
    """A blueprint whose addresses are read only, open to every origin, limited in rate, and described."""

    def __init__(self, blueprint: Blueprint) -> None:
        self.blueprint = blueprint
        self.endpoints: list[Endpoint] = []

    def get(
        self, rule: str, answers: type[BaseModel] | str, asked: Sequence[Parameter] = ()
    ) -> Callable[[Callable[..., BaseModel | Response]], Callable[..., Response]]:
        """Declare an address; what it says is the first line of the function's docstring."""

        def declared(view: Callable[..., BaseModel | Response]) -> Callable[..., Response]:
            says = (inspect.getdoc(view) or "").partition("\n")[0]
            self.endpoints.append(Endpoint(rule, says, answers, asked))

            @wraps(view)
            def answer(**places: Any) -> Response:
                if refused := within_rate(request.remote_addr or ""):
                    return refused
                made = view(**places)
                if isinstance(made, BaseModel):
                    made = Response(made.model_dump_json(), mimetype="application/json")
                made.headers.setdefault("Cache-Control", f"public, max-age={FRESH_S}")
                made.add_etag()
                made.make_conditional(request)
                return made

            self.blueprint.get(rule)(answer)
            return answer

        return declared

    def openapi(self, at: str) -> Mapping[str, Any]:
        """The description of all addresses [1]_; `at` is where they begin."""
        models = {e.answers for e in self.endpoints if not isinstance(e.answers, str)} | {Problem}
        named = sorted(models, key=lambda m: m.__name__)
        refs, schemas = models_json_schema(
            [(m, "serialization") for m in named], ref_template="#/components/schemas/{model}"
        )
        return {
            "openapi": "3.1.0",
            "info": {
                "title": "Levelmoor",
                "version": VERSION,
                "description": "Published test reports with their evidence, for reading.",
            },
            "servers": [{"url": at}],
            "paths": {e.path: {"get": _operation(e, refs)} for e in self.endpoints},
            "components": {"schemas": schemas["$defs"]},
        }


def _schema(asked: Parameter) -> dict[str, Any]:
    return {"type": "string"} | ({"enum": [*asked.values]} if asked.values else {})


def _operation(endpoint: Endpoint, refs: Mapping[Any, Any]) -> dict[str, Any]:
    answers = endpoint.answers
    content = (
        {answers: {"schema": {"type": "string"}}}
        if isinstance(answers, str)
        else {"application/json": {"schema": refs[answers, "serialization"]}}
    )
    problem = {"content": {"application/json": {"schema": refs[Problem, "serialization"]}}}
    text = {"type": "string"}
    return {
        "summary": endpoint.says,
        "parameters": [
            *({"name": n, "in": "path", "required": True, "schema": text} for n in endpoint.places),
            *({"name": p.name, "in": "query", "description": p.says, "schema": _schema(p)} for p in endpoint.asked),
        ],
        "responses": {
            "200": {"description": "what was asked for", "content": content},
            "304": {"description": "nothing new since the ETag that was sent"},
            "404": {"description": "nothing is at this address", **problem},
            **({"422": {"description": "a parameter is wrong", **problem}} if endpoint.asked else {}),
            "429": {"description": "too many requests; Retry-After says when to go on", **problem},
        },
    }
