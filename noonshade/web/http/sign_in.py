"""The page on which a passphrase is given, and the cookie that remembers it.

The cookie is signed with the passphrase: a program that is started with another one knows it no more.
"""

from __future__ import annotations

import html

from flask import Flask, Response, g, redirect, request

from noonshade.web.http.front_door import COOKIE, LASTS_S, SIGN_IN, FrontDoor
from noonshade.web.http.problems import ProblemModel

LEAVE_PATH = "/sign-out"
# What the form sends fits into so many bytes.
LARGEST_FORM = 4_000

_STYLE = """
:root { color-scheme: light dark; --ink: #26221c; --paper: #f6f2ea; --panel: #fffdf8; --edge: #b9ae9b; --act: #7a4a12; }
@media (prefers-color-scheme: dark) {
  :root { --ink: #ece5d8; --paper: #1d1a16; --panel: #27231d; --edge: #6d6455; --act: #e0a25a; }
}
body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--paper); color: var(--ink);
  font: 16px/1.5 system-ui, sans-serif; }
main { box-sizing: border-box; background: var(--panel); border: 1px solid var(--edge); border-radius: 10px; padding: 1.5rem; width: min(22rem, 86vw); }
h1 { margin: 0 0 .5rem; font-size: 1.35rem; }
label { display: block; font-weight: 600; margin-top: .75rem; }
input { box-sizing: border-box; width: 100%; font: inherit; padding: .6rem; margin-top: .25rem; border-radius: 6px;
  border: 1px solid var(--edge); background: transparent; color: inherit; }
button { margin-top: 1rem; width: 100%; font: inherit; font-weight: 600; padding: .7rem; border: 0; border-radius: 6px;
  background: var(--act); color: var(--panel); cursor: pointer; }
:focus-visible { outline: 3px solid var(--act); outline-offset: 2px; }
.wrong { border-left: 4px solid #c0392b; padding-left: .75rem; }
"""  # noqa: E501


def wants_page(path: str, accepted: str) -> bool:
    """Whether a browser asks for a page, which then is the one to sign in on."""
    return not path.startswith(("/api/", "/assets/")) and "text/html" in accepted


def register(app: Flask, door: FrontDoor) -> None:
    """Add the pages to sign in and out on, where a passphrase is asked for."""

    @app.get(SIGN_IN)
    def _sign_in_page() -> Response:
        if door.passphrase is None:
            return _home()
        if door.knows(request.headers.get("Cookie")):
            return _page(200, "You are signed in", _LEAVE)
        return page(None)

    @app.post(SIGN_IN)
    def _sign_in() -> Response:
        if door.passphrase is None:
            return _home()
        request.max_content_length = LARGEST_FORM
        address = request.remote_addr or ""
        problem = door.tried(request.form.get("passphrase", ""), address)
        if problem is not None:
            answer = page(problem)
            answer.headers.update(
                {k: v for k, v in door.headers(problem, address).items() if "WWW" not in k}
            )
            return answer
        answer = _home()
        answer.set_cookie(
            COOKIE,
            door.token(),
            max_age=LASTS_S,
            httponly=True,
            samesite="Strict",
            # Behind a proxy that speaks TLS only the page's own address tells.
            secure=request.headers.get("Origin", "").startswith("https://"),
        )
        return answer

    @app.post(LEAVE_PATH)
    def _sign_out() -> Response:
        answer = redirect(SIGN_IN, 303)
        answer.delete_cookie(COOKIE, httponly=True, samesite="Strict")
        return answer  # type: ignore[return-value]


def page(problem: ProblemModel | None) -> Response:
    """The page to sign in on, with what was wrong with the last try."""
    wrong = ""
    if problem is not None:
        words = problem.detail if problem.status == 429 else "This is not the passphrase. Try again."
        wrong = f'<p class="wrong" role="alert">{html.escape(words)}</p>'
    return _page(401 if problem is None else problem.status, "Noon Shade", wrong + _FORM)


_FORM = f"""<p>This program is open to your network and asks for its passphrase.</p>
<form method="post" action="{SIGN_IN}">
<label for="passphrase">Passphrase</label>
<input id="passphrase" name="passphrase" type="password" autocomplete="current-password" required autofocus>
<button type="submit">Sign in</button>
</form>"""
_LEAVE = f"""<p>This browser is remembered for 30 days.</p>
<p><a href="/">Back to the room</a></p>
<form method="post" action="{LEAVE_PATH}"><button type="submit">Sign out</button></form>"""


def _page(status: int, title: str, body: str) -> Response:
    text = (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width, initial-scale=1"><title>Noon Shade</title>'
        f'<style nonce="{g.nonce}">{_STYLE}</style></head>'
        f"<body><main><h1>{title}</h1>{body}</main></body></html>"
    )
    headers = {"Cache-Control": "no-store"}
    return Response(text, status, headers, content_type="text/html; charset=utf-8")


def _home() -> Response:
    return redirect("/", 303)  # type: ignore[return-value]
