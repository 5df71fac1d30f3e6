"""Linear algebra of a few unknowns, in plain numbers: a phone has no build of a library for it.

Source: Golub and Van Loan, Matrix Computations, 4th edition, sections 3.1 and 4.2 (Cholesky). From memory.
"""

from collections.abc import Mapping, Sequence
from math import log, sqrt
from operator import mul

Vector = list[float]
Matrix = list[list[float]]

Row = Mapping[int, float]
"""A row of which only what is not 0 is kept, by its place."""


def dot(row: Row, values: Sequence[float]) -> float:
    """A row times a vector."""
    found = 0.0
    for index, value in row.items():
        found += value * values[index]
    return found


def spread_along(row: Row, covariance: Matrix) -> float:
    """The variance along a row: row · covariance · rowᵀ."""
    return across(row, covariance, row)


def across(row: Row, matrix: Matrix, other: Row) -> float:
    """row · matrix · otherᵀ."""
    return sum(value * dot(other, matrix[index]) for index, value in row.items())


def add_square(matrix: Matrix, by: float, row: Row) -> None:
    """Add so many times rowᵀ · row to the lower half of a symmetric matrix."""
    for index, value in row.items():
        into, times = matrix[index], by * value
        for other, along in row.items():
            if other <= index:
                into[other] += times * along


def cholesky(matrix: Matrix) -> Matrix:
    """L of a symmetric matrix, positive definite, which is L·Lᵀ: its lower half, row by row. Only the lower
    half of `matrix` is read. Raises ValueError where it is not positive definite.

    >>> cholesky([[4.0], [2.0, 5.0]])
    [[2.0], [1.0, 2.0]]
    """
    lower: Matrix = []
    for i, given in enumerate(matrix):
        row: Vector = []
        for j, other in enumerate(lower):
            row.append((given[j] - sum(map(mul, row, other))) / other[j])
        row.append(sqrt(given[i] - sum(map(mul, row, row))))
        lower.append(row)
    return lower


def solved(lower: Matrix, right: Sequence[float]) -> Vector:
    """x of L·Lᵀ·x = right.

    >>> solved([[2.0], [1.0, 2.0]], [8.0, 14.0])
    [0.75, 2.5]
    """
    found: Vector = []
    for row, value in zip(lower, right, strict=True):
        found.append((value - sum(map(mul, row, found))) / row[-1])
    for i in range(len(found) - 1, -1, -1):
        row = lower[i]
        by = found[i] = found[i] / row[i]
        for j in range(i):
            found[j] -= row[j] * by
    return found


def inverse(lower: Matrix) -> Matrix:
    """The inverse of L·Lᵀ.

    >>> inverse([[2.0]])
    [[0.25]]
    """
    size = len(lower)
    return [solved(lower, [float(i == j) for i in range(size)]) for j in range(size)]


def log_determinant(lower: Matrix) -> float:
    """The logarithm of the determinant of L·Lᵀ.

    >>> log_determinant([[1.0], [7.0, 1.0]])
    0.0
    """
    return 2 * sum(log(row[-1]) for row in lower)
