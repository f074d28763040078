"""Serving beyond this machine: a link with a key, kept by the browser as a cookie; the names of this machine are known."""

from __future__ import annotations

import os
import re
import socket
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from websockets.exceptions import InvalidStatus
from websockets.sync.client import connect

from tests.app.server import Server, free_port
from wander.app.serve import reached_at


@pytest.fixture(scope="module")
def guarded(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    server = Server(tmp_path_factory.mktemp("guarded"), token="salt")
    server.client.headers["authorization"] = "Bearer salt"
    server.start()
    yield server
    server.stop()


def test_the_link_gives_a_cookie_that_opens_everything(guarded: Server) -> None:
    with httpx.Client(base_url=guarded.url) as browser:
        assert browser.get("/api/designs").status_code == 401
        entered = browser.get("/enter", params={"token": "salt"})
        assert (entered.status_code, entered.headers["location"]) == (303, "/")
        given = entered.headers["set-cookie"].lower()
        assert "httponly" in given
        assert "samesite=strict" in given
        assert "no-store" in entered.headers["cache-control"]
        assert browser.get("/api/designs").status_code == 200
        design = browser.post("/api/designs", json={"name": "Mould"}).json()["id"]
        cookie = "; ".join(f"{name}={value}" for name, value in browser.cookies.items())
    address = f"ws://127.0.0.1:{guarded.port}/api/designs/{design}/live"
    with connect(address, additional_headers={"cookie": cookie}) as live:
        assert live.recv(10)
    for refused in ({}, {"cookie": cookie.replace("salt", "pepper")}, {"cookie": "wander-1=salt"}):
        with pytest.raises(InvalidStatus), connect(address, additional_headers=refused):
            pass
    with pytest.raises(InvalidStatus), connect(f"{address}?token=salt"):
        pass


@pytest.mark.parametrize("query", ["", "?token=", "?token=pepper", "?token=salt2", "?tokens=salt"])
def test_another_key_is_refused_in_a_sentence(guarded: Server, query: str) -> None:
    refused = httpx.get(f"{guarded.url}/enter{query}")
    assert refused.status_code == 401
    assert refused.json()["code"] == "token-needed"
    assert "Open the link" in refused.json()["detail"]
    assert "set-cookie" not in refused.headers


def test_a_person_with_an_old_link_is_sent_to_the_page_that_says_so(guarded: Server) -> None:
    answer = httpx.get(f"{guarded.url}/enter?token=pepper", headers={"accept": "text/html,*/*"})
    assert (answer.status_code, answer.headers["location"]) == (303, "/")
    assert "set-cookie" not in answer.headers


@pytest.mark.parametrize("cookie", ["=;=;", "wander", 'a="', "wander-80=", ",,;;\\", "\u00e9=1"])
def test_a_cookie_that_says_nothing_opens_nothing(guarded: Server, cookie: str) -> None:
    assert httpx.get(f"{guarded.url}/api/designs", headers={"cookie": cookie.encode("latin-1")}).status_code == 401


def test_without_a_token_there_is_no_entrance(server: Server) -> None:
    assert server.client.get("/enter", params={"token": ""}, follow_redirects=False).status_code in (200, 404)
    assert "set-cookie" not in server.client.get("/enter", params={"token": ""}).headers


def test_it_answers_under_the_names_it_prints_and_under_no_others(tmp_path: Path) -> None:
    port = free_port()
    environment = {**os.environ, "WANDER_DATA": str(tmp_path)}
    arguments = [sys.executable, "-m", "wander", "serve", "--host", "0.0.0.0", "--port", str(port)]
    with subprocess.Popen(arguments, env=environment, stdout=subprocess.PIPE, text=True, start_new_session=True) as run:
        try:
            assert run.stdout is not None
            links = []
            for line in run.stdout:
                found = re.search(r"http://\S+", line)
                if found is None:
                    break
                links.append(found[0])
            assert socket.gethostname() in "".join(links)
            local = next(link for link in links if "127.0.0.1" in link)
            key = local.split("token=")[1]
            assert len(key) >= 32
            with httpx.Client(timeout=30, transport=httpx.HTTPTransport(retries=20)) as browser:
                for link in links:
                    named = httpx.URL(link)
                    asked = {"host": f"{named.host}:{port}", "authorization": f"Bearer {key}"}
                    assert browser.get(f"http://127.0.0.1:{port}/api/designs", headers=asked).status_code == 200
                stranger = {"host": f"stranger.example:{port}", "authorization": f"Bearer {key}"}
                assert browser.get(f"http://127.0.0.1:{port}/api/designs", headers=stranger).status_code == 403
        finally:
            run.terminate()
            run.wait(15)


def test_the_names_of_this_machine() -> None:
    assert reached_at("192.0.2.7") == ["192.0.2.7"]
    assert reached_at("2001:db8::7") == ["[2001:db8::7]"]
    everywhere = reached_at("0.0.0.0")
    assert everywhere[0] == socket.gethostname()
    assert "127.0.0.1" in everywhere
    assert len(everywhere) == len(set(everywhere))
