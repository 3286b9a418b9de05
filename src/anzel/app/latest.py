"""Answering the newest request on a thread of its own; what was overtaken is never worked on."""

from collections.abc import Callable
from threading import Condition, Thread
from typing import Generic, TypeVar

from anzel.app.jobs import Deliver
from anzel.findings import MakerError

Request = TypeVar("Request")
Answer = TypeVar("Answer")


class Latest(Generic[Request, Answer]):
    """`begin` makes the worker inside the thread (an OpenGL context belongs to its thread).

    Each answer, or the failure that ends the thread, arrives through `deliver`.
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
        self._thread = Thread(target=self._run, name="anzel-latest", daemon=True)
        self._thread.start()

    def ask(self, request: Request) -> None:
        """Answer this instead of anything asked before and not yet begun."""
        with self._turn:
            self._wanted = request
            self._turn.notify()

    def close(self) -> None:
        """Finish the answer under way, drop the rest, and end the thread."""
        with self._turn:
            self._closing = True
            self._turn.notify()
        self._thread.join()

    def _run(self) -> None:
        try:
            answer = self._begin()
            while (request := self._next()) is not None:
                self._send(answer(request))
        except MakerError as error:
            caught = error
            if not self._closing:
                self._deliver(lambda: self._failed(caught))

    def _next(self) -> Request | None:
        with self._turn:
            while self._wanted is None and not self._closing:
                self._turn.wait()
            request, self._wanted = self._wanted, None
            return None if self._closing else request

    def _send(self, answer: Answer) -> None:
        if not self._closing:
            self._deliver(lambda: self._answered(answer))
