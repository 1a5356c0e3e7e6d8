"""What a person shows at sign-in besides the password, or instead of it."""

from datetime import datetime

from sqlalchemy import VARBINARY, BigInteger, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from levelmoor.records.base import EXACT, Base


class SecondStep(Base):
    """The secret that an app of the person's makes codes from, sealed where the installation has a key; it counts once
    a code of it was shown. `last_step` is the time step of the last code that let in, which lets in once."""

    __tablename__ = "second_step"
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), primary_key=True)
    secret: Mapped[str]
    begun_at: Mapped[datetime]
    confirmed_at: Mapped[datetime | None]
    last_step: Mapped[int] = mapped_column(default=0)


class OutsideIdentity(Base):
    """Whom an outside identity provider vouches for, by its own number for them."""

    __tablename__ = "outside_identity"
    issuer: Mapped[str] = mapped_column(String(200, collation=EXACT), primary_key=True)
    subject: Mapped[str] = mapped_column(String(255, collation=EXACT), primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), index=True)
    made_at: Mapped[datetime]


class Passkey(Base):
    """The public half of a key pair that a device of the person's made. `answered_s` is when the last challenge that it
    answered was asked, in seconds since 1970: an earlier one lets nobody in."""

    __tablename__ = "passkey"
    id: Mapped[int] = mapped_column(primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), index=True)
    name: Mapped[str] = mapped_column(String(60))
    credential: Mapped[bytes] = mapped_column(VARBINARY(1023), unique=True)
    public_key: Mapped[bytes]
    sign_count: Mapped[int] = mapped_column(BigInteger)
    made_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    answered_s: Mapped[float]


class RecoveryCode(Base):
    """A code on paper for who has lost the app; here its digest. It lets in once."""

    __tablename__ = "recovery_code"
    id: Mapped[int] = mapped_column(primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), index=True)
    sha256: Mapped[str] = mapped_column(String(64), unique=True)
    used_at: Mapped[datetime | None]
