import sql, { ConnectionPool } from 'mssql';
import { ASSIGN, names } from './texts';
const oracledb = require('oracledb');

const decoy = { execute(name: string) { return name; } };

export class Berths {
  private proc = 'berth.assign'; // call berth.assign(return unknown, in int32 vessel_id id, out string note) captured read
  constructor(private readonly pool: ConnectionPool) {}

  async assign(id: number): Promise<number> {
    const request = this.pool.request();
    request.input('vessel_id', sql.Int, id);
    request.output('note', sql.NVarChar(200));
    const result = await request.execute(this.proc);
    if (result.returnValue === 40) throw new Error(result.output.note);
    return result.recordset[0].berth_no / 2;
  }

  async chained(id: number) {
    const { output } = await new sql.Request(this.pool)
      .input('a', id)
      .output('b', sql.Decimal(9, 2))
      .execute(`fares.${'quote'}`); // call fares.quote(in unknown a id, out decimal b)
    console.log(`EXEC fares.logged 1`);
    return output.b;
  }

  async batch(id: number) {
    const r = this.pool.request().input('id', id);
    const { recordset } = await r.query('DECLARE @n int; EXEC berth.count_all @id, @n OUTPUT; SELECT @n AS n'); // call berth.count_all(in unknown id, out unknown @n) read
    return recordset;
  }

  callback(id: number, done: (e: Error | null, rc?: number) => void) {
    new sql.Request(this.pool).execute('berth.free_all', (err, res, rc) => { // call berth.free_all(return unknown) captured
      if (err) return done(err);
      done(null, res.returnValue);
    });
  }

  constants() {
    decoy.execute('berth.decoy');
    return /EXEC x/.test('a') ? names.test : undefined;
  }
}

export async function oracle(conn: any, vessel: string) {
  const binds = {
    v: vessel,
    n: { dir: oracledb.BIND_OUT, type: oracledb.NUMBER },
    t: { dir: oracledb.BIND_INOUT, type: oracledb.STRING, val: 'x', maxSize: 40 },
  };
  const result = await conn.execute(
    `BEGIN harbour.quote(:v, p_n => :n, p_t => :t); END;`, // call harbour.quote(in string vessel, out decimal p_n, inout string p_t 'x')
    binds,
  );
  return result.outBinds.n + result.outBinds.t;
}
