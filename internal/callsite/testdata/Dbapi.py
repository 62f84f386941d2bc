import logging
import oracledb
import other
from textwrap import dedent
from names import PROC, SQL as TEXTS

log = logging.getLogger(__name__)
QUOTE = "harbour.quote_dues"  # call harbour.quote_dues(in unknown vessel, out decimal)
ASSIGN = (
    "BEGIN berth.assign("  # call berth.assign(in unknown vessel, out string, in int32 n 5)
    ":v, :note, n => :n); END;"
)


class Fake:
    def execute(self, sql, args=None):
        return None


class Desk:
    TEXT = "begin :r := fares.price(:a); end;"  # call fares.price(return decimal, in int32 7) captured

    def __init__(self, conn):
        self.conn = conn
        self.cur = conn.cursor()

    def positional(self, vessel):
        out = self.cur.var(oracledb.NUMBER)
        self.cur.callproc(QUOTE, [vessel, out])
        return out.getvalue()

    def named(self, vessel):
        with self.conn.cursor() as cur:
            cur.callproc("harbour.book", keyword_parameters={"berth_no": 4, "who": vessel})  # call harbour.book(in int32 berth_no 4, in unknown who vessel)
            n = cur.callfunc("harbour.free", int, ["N", 2])  # call harbour.free(return int32, in string "N", in int32 2) captured
            if n > 3:
                log.info("CALL harbour.logged(1)")

    def block(self, vessel):
        note = self.cur.var(str, 200)
        self.cur.execute(ASSIGN, v=vessel, note=note, n=5)
        log.debug(note.getvalue())

    def attribute(self):
        r = self.cur.var(oracledb.NUMBER)
        self.cur.execute(self.TEXT, {"r": r, "a": 7})
        return r.getvalue()

    def selects(self, a):
        self.cur.execute("select fares.total(:1, :2) from dual", (a, 3))  # call fares.total(in unknown a, in int32 3) read
        rows = self.cur.fetchall()
        self.cur.execute("select count(*) from fares where x = upper(:1)", [a])
        Fake().execute("CALL harbour.fake(1)")
        # self.cur.execute("CALL harbour.commented(1)")
        return rows

    def built(self, table, values):
        sql = "CALL harbour." + table + "(:1)"  # call ?
        self.cur.execute(sql, values)
        for name in ("harbour.one", "harbour.two"):  # call harbour.one() // call harbour.two()
            self.cur.callproc(name)
        self.cur.execute(
            dedent("CALL harbour.joined({}, :1)").format(5),  # call harbour.joined(in int32 5, in unknown values)
            [values],
        )
