"""Documents that several people write: versions, what changed since a page was drawn, doing over, clashes told.

A form carries the version of the document that its page showed. A change of something that nobody else touched since
is done on the document as it is now; one of the same thing is not done, and the person is told what the other did. A
change that another one came between is worked out anew from the start. Nobody's answered change is written over.

Tickets keep their own changes (``tickets.meanwhile``), which can be undone; they share :class:`Moved` and
:func:`~.doing.retried`.
"""
