"""What only people can see: the questions of a review, one file each in ``asked``.

A file begins with what is asked, of a page or of the site (``about``), the criteria that the answer
tells about, the evidence that is shown beside it, and when an answer ``lapses``: when its evidence
changes, or also after a time. Below stand why it matters, and when the answer is *fine*, *a fault*,
or *does not apply*.
"""
