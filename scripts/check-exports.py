"""What a spreadsheet shows: every number as its format writes it, and every text, by sheet. Read by openpyxl, which wrote none of it."""

import json
import re
import sys
from decimal import ROUND_HALF_UP, Decimal

from openpyxl import load_workbook


def shown(value, number_format):
    """A number in the unit and with the digits of its format (ECMA-376, 18.8.31)."""
    code = number_format.split(";")[0]
    match = re.search(r"0(?:\.(0+))?(,*)(%?)", code)
    if not match or isinstance(value, bool):
        return value
    decimals = len(match.group(1) or "")
    scaled = Decimal(repr(value)) / 1000 ** len(match.group(2)) * (100 if match.group(3) else 1)
    # Halves go away from zero, as on the screen.
    return float(scaled.quantize(Decimal(1).scaleb(-decimals), rounding=ROUND_HALF_UP))


book = load_workbook(sys.argv[1])
sheets = {}
for sheet in book.worksheets:
    numbers, texts, outline = [], [], 0
    for row in sheet.iter_rows():
        outline = max(outline, sheet.row_dimensions[row[0].row].outline_level)
        for cell in row:
            if isinstance(cell.value, (int, float)):
                numbers.append(shown(cell.value, cell.number_format))
            elif cell.value is not None:
                texts.append(str(cell.value))
    sheets[sheet.title] = {"numbers": numbers, "texts": texts, "outline": outline}
json.dump(sheets, sys.stdout)
