import psycopg
from sqlalchemy import create_engine, func, select, text

engine = create_engine("postgresql://x")


def alchemy(session, vessel, kind="a"):
    with engine.connect() as conn:
        conn.execute(text("CALL plan.load(:vessel, :kind)"), {"vessel": vessel, "kind": kind})  # call plan.load(in unknown vessel, in unknown kind)
        n = conn.execute(text("SELECT plan.total(:v)").bindparams(v=vessel)).scalar()  # call plan.total(in unknown vessel) read
        session.execute(select(func.plan.free(vessel, 3)))  # call plan.free(in unknown vessel, in int32 3) read
        session.execute(select(func.count(vessel)))
    return n


def plain(cur, vessel):
    cur.execute("CALL plan.close(%s, NULL)", (vessel,))  # call plan.close(in unknown vessel, in unknown NULL)
    cur.execute("SELECT * FROM plan.rows(%(v)s, kind => 'x')", {"v": vessel})  # call plan.rows(in unknown vessel, in string kind 'x') read
    for row in cur:
        print(row)
    cur.execute(f"CALL plan.joined({vessel})")  # call plan.joined(in unknown <vessel>)
    cur.execute("CALL plan.%s(%%s)" % "percent", [vessel])  # call plan.percent(in unknown vessel)
    sql = "CALL plan.one(%s)"  # call plan.one(in unknown vessel)
    if vessel:
        sql = "CALL plan.two(%s)"  # call plan.two(in unknown vessel)
    cur.execute(sql, [vessel])
    cur.execute(
        "CALL "  # a comment between
        "plan.pieces"  # call plan.pieces(unset)
        "(%s)"
    )
