"""Answering the newest request on a thread of its own; what was overtaken is never worked on."""

from collections.abc import Callable
from threading import Condition
from typing import Generic, TypeVar

from anzel.app.background import Deliver
from anzel.app.worker import start_thread
from anzel.core.error_boundary import to_maker_error
from anzel.core.findings import MakerError

Request = TypeVar("Request")
Answer = TypeVar("Answer")


class Latest(Generic[Request, Answer]):
    """`begin` makes the worker inside the thread (an OpenGL context belongs to its thread).

    Each answer, or why there is none, arrives through `deliver`. Where `begin` fails the thread
    ends; where an answer fails the next request is tried again.
    """

    def __init__(
        self,
        begin: Callable[[], Callable[[Request], Answer]],
        *,
        answered: Callable[[Answer], None],
        failed: Callable[[MakerError], None],
        deliver: Deliver,
    ) -> None:
        self._begin, self._answered = begin, answered
        self._failed, self._deliver = failed, deliver
        self._wanted: Request | None = None
        self._closing = False
        self._turn = Condition()
        start_thread(self._run, "anzel-latest")

    def ask(self, request: Request) -> None:
        """Answer this instead of anything asked before and not yet begun."""
        with self._turn:
            self._wanted = request
            self._turn.notify()

    def close(self) -> None:
        """Drop what is asked, and end the thread after the answer under way; this does not wait."""
        with self._turn:
            self._closing = True
            self._turn.notify()

    def _run(self) -> None:
        try:
            answer = self._begin()
        except Exception as error:
            self._fail(error)
            return
        while (request := self._next()) is not None:
            try:
                self._send(answer(request))
            except Exception as error:
                self._fail(error)

    def _fail(self, error: Exception) -> None:
        if not self._closing:
            self._deliver(lambda: self._failed(to_maker_error(error, "it drew a picture")))

    def _next(self) -> Request | None:
        with self._turn:
            while self._wanted is None and not self._closing:
                self._turn.wait()
            request, self._wanted = self._wanted, None
            return None if self._closing else request

    def _send(self, answer: Answer) -> None:
        if not self._closing:
            self._deliver(lambda: self._answered(answer))
