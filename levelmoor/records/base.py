"""What all tables have in common: names of keys, and how Python's types are kept."""

from typing import Any, ClassVar

from sqlalchemy import JSON, Double, LargeBinary, MetaData, String
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import DeclarativeBase

EXACT = "utf8mb4_bin"
"""Letters compared as they are, for what is an address or a key and no word."""
Blob = LargeBinary().with_variant(LONGBLOB(), "mysql", "mariadb")


class Base(DeclarativeBase):
    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map: ClassVar[dict[Any, Any]] = {
        str: String(200),
        float: Double(),
        bytes: Blob,
        dict[str, Any]: JSON,
        list[Any]: JSON,
    }
