"""Letters: over a mail server where one is set, else in the outbox of the one machine; and answers on the way."""

import gzip
import socketserver
import threading

import pytest
from sqlalchemy import text

from levelmoor.services import mail
from levelmoor.services.mail import Post, post_of_installation


class _Smtp(socketserver.StreamRequestHandler):
    """As much of RFC 5321 as takes one letter."""

    def handle(self):
        self.wfile.write(b"220 here\r\n")
        taking = False
        for line in self.rfile:
            if taking:
                self.server.letters[-1].append(line.decode().rstrip())
                taking = line != b".\r\n"
                if not taking:
                    self.wfile.write(b"250 taken\r\n")
                continue
            word = line[:4].upper()
            if word == b"DATA":
                self.server.letters.append([])
                taking = True
            self.wfile.write(b"354 go on\r\n" if taking else b"221 bye\r\n" if word == b"QUIT" else b"250 so be it\r\n")
            if word == b"QUIT":
                return


@pytest.fixture
def smtp():
    with socketserver.TCPServer(("127.0.0.1", 0), _Smtp) as server:
        server.letters = []
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield server
        server.shutdown()


def invite(client):
    return client.post("/team/invitations", data={"email": "new@team.example", "role": "reader"}).text


def test_an_invitation_lies_in_the_outbox_of_one_machine(signed_in):
    assert "outbox of this machine" in invite(signed_in)
    page = signed_in.get("/team/outbox").text
    assert "to new@team.example" in page and "/invited/" in page


def test_a_letter_goes_out_over_the_server_and_its_words_are_not_kept(signed_in, app, smtp, monkeypatch):
    monkeypatch.setitem(app.config, "POST", Post(f"smtp://127.0.0.1:{smtp.server_address[1]}", "moor@team.example"))
    assert "An email is on its way" in invite(signed_in)
    letter = "\n".join(smtp.letters[0])
    assert "To: new@team.example" in letter and "From: moor@team.example" in letter and "/invited/" in letter
    assert "/invited/" not in signed_in.get("/team/outbox").text


def test_a_server_that_does_not_answer_is_said_and_the_link_is_still_there(signed_in, app, monkeypatch):
    monkeypatch.setitem(app.config, "POST", Post("smtp://127.0.0.1:9", "moor@team.example"))
    assert "/invited/" in invite(signed_in)
    assert "not sent: " in " ".join(signed_in.get("/team/outbox").text.split())


def test_no_change_of_the_team_waits_for_the_mail_server(signed_in, app, monkeypatch):
    monkeypatch.setitem(app.config, "POST", Post("smtp://mail.example", "moor@team.example"))
    renamed = []

    def deliver(_post, _letter):
        with app.config["SESSIONS"].begin() as beside:
            beside.execute(text("SET innodb_lock_wait_timeout = 1"))
            renamed.append(beside.execute(text("UPDATE team SET rebuild_min = rebuild_min + 1")).rowcount)

    monkeypatch.setattr(mail, "_deliver", deliver)
    invite(signed_in)
    assert renamed


def test_where_others_reach_the_server_and_none_is_set_no_letter_is_written(monkeypatch):
    monkeypatch.delenv(mail.SERVER, raising=False)
    assert post_of_installation(one_machine=True) == Post(outbox=True)
    assert post_of_installation(one_machine=False).goes is False


@pytest.mark.parametrize(
    ("server", "sender", "words"),
    [
        ("mail.example", "a@b.example", "write it like smtp"),
        ("smtp://mail.example", "", "sender's address for emails"),
    ],
)
def test_a_mail_server_that_is_none_is_refused_at_the_start(monkeypatch, server, sender, words):
    monkeypatch.setenv(mail.SERVER, server)
    monkeypatch.setenv(mail.FROM, sender)
    with pytest.raises(ValueError, match=words):
        post_of_installation(one_machine=True)


def test_answers_are_compressed_for_those_who_take_that(client):
    plain, small = (client.get("/static/app.css", headers=h) for h in ({}, {"Accept-Encoding": "gzip"}))
    assert gzip.decompress(small.data) == plain.data
    assert small.headers["Content-Encoding"] == "gzip" and len(small.data) < len(plain.data) / 2
    assert "Accept-Encoding" in small.vary
