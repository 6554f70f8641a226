"""Simple arithmetic as people type it into a number's field, such as `133/7` or `2*(16+1)`."""

from __future__ import annotations

import ast
import operator
from collections.abc import Callable

from rushweed.core.values import Refusal

LONGEST = 60
OPERATORS: dict[type, Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}


def calculate(text: str) -> float:
    """The value of an expression of numbers, + − × ÷ and brackets.

    Raises Refusal with one sentence for anything else.

    >>> calculate("3 × (16 + 2)")
    54.0
    """
    plain = text.strip().replace("×", "*").replace("÷", "/").replace("−", "-").replace(",", ".")
    try:
        if len(plain) > LONGEST:
            raise ValueError
        return _value(ast.parse(plain, mode="eval").body)
    except ZeroDivisionError as problem:
        raise Refusal("That divides by nothing. Type another number.") from problem
    except (SyntaxError, ValueError, OverflowError, MemoryError, RecursionError) as problem:
        raise Refusal(
            "“{strip}” is not a number. Type one, such as 16 or 133/7.", strip=text.strip()
        ) from problem


def _value(node: ast.expr) -> float:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
        return float(node.value)
    if isinstance(node, ast.BinOp) and type(node.op) in OPERATORS:
        return OPERATORS[type(node.op)](_value(node.left), _value(node.right))
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return -_value(node.operand)
    raise ValueError
