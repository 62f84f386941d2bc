"""Harbour dues, as the office charges them."""
import oracledb

from texts import CHARGE, RATE


class Dues:
    def __init__(self, connection):
        self.connection = connection

    def charge(self, sailing):
        with self.connection.cursor() as cursor:
            amount = cursor.var(oracledb.NUMBER)
            note = cursor.var(str, 200)
            note.setvalue(0, "")
            cursor.execute(CHARGE, sailing=sailing, amount=amount, note=note)
            if note.getvalue():
                raise ValueError(note.getvalue())
            return amount.getvalue()

    def charge_day(self, day):
        cursor = self.connection.cursor()
        # The count of sailings is an output, and gets a number.
        return cursor.callproc("harbour.dues.charge", [day, 0])

    def rate(self, length, tide="high"):
        cursor = self.connection.cursor()
        cursor.execute(RATE, [length, tide])
        return cursor.fetchone()[0]
