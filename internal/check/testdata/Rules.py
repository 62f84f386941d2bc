import pyodbc

# A line that ends in "finds …" tells the rules that find something on it; the others find nothing.


def right(cur, vessel, sailing):
    cur.execute(
        "DECLARE @rc int, @note nvarchar(200); EXEC @rc = berth.assign ?, ?, @note OUTPUT; SELECT @rc, @note",
        vessel, sailing)
    rc, note = cur.fetchone()
    cur.execute("{CALL deck.move (?, ?)}", (1, 2))
    cur.execute("EXEC berth.list @day = ?", ["2026-11-23"])
    rows = [row.vessel for row in cur.fetchall()]
    cur.execute("SELECT fare.dues(?)", 5)
    cur.execute("SELECT slot FROM fare.slots(?)", 5)
    return rc, note, rows


def wrong(cur, vessel, sailing):
    cur.execute("{CALL deck.move (?)}", 1)  # finds missing-argument
    cur.execute("{CALL deck.move (?, ?, ?)}", (1, 2, 3))  # finds extra-argument
    cur.execute("{CALL deck.mov (?, ?)}", (1, 2))  # finds unknown-routine
    cur.execute("{CALL deck.move (?, ?)}", (1,))  # finds unset-placeholder
    cur.execute(f"EXEC fare.release {vessel}")  # finds value-in-call-text
    cur.execute("EXEC berth.list @when = ?", ["x"])  # finds result-set-ignored unknown-parameter
    cur.execute("SELECT fare.due(?)", 5)  # finds unknown-routine
