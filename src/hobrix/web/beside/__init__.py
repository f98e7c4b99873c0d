"""Work done beside the threads that serve: in processes of their own, which can be ended at any
moment, and of which nobody takes more than a share."""

from hobrix.web.beside.asking import Numbers, UnderWay, get_ready, look, numbers, run, stop
from hobrix.web.beside.pieces import Asker, Piece

__all__ = ["Asker", "Numbers", "Piece", "UnderWay", "get_ready", "look", "numbers", "run", "stop"]
