"""A report as documents: what is written with its numbers, tables and pictures in their places, and the
formats it leaves in."""

from hobrix.documents.page import Page, PagePart, page_of

__all__ = ["Page", "PagePart", "page_of"]
