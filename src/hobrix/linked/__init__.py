"""Data that stay where they are: an engine counts the distinct combinations of what a question names, and
the lenses answer from those.

``place`` says where data may be, ``expression`` what is counted (Ibis, compiled to the engine's SQL),
``embedded`` is the engine that comes with Hobrix, ``patterns`` what it gives back.
"""
