import sql from 'mssql';

// A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
export async function right(pool: sql.ConnectionPool, vessel: number, sailing: number) {
  const result = await pool.request()
    .input('vessel_id', sql.Int, vessel)
    .input('sailing_id', sql.Int, sailing)
    .output('note', sql.NVarChar(200))
    .execute('berth.assign');
  if (result.returnValue !== 0) throw new Error(result.output.note);
  const rows = await pool.request().execute('berth.list');
  return rows.recordset[0].vessel;
}

export async function wrong(pool: sql.ConnectionPool, vessel: number, sailing: number) {
  const r = await pool.request()
    .input('vessel_id', sql.Int, vessel)
    .input('sailing', sql.Int, sailing) // finds unknown-parameter
    .output('note', sql.NVarChar(200))
    .execute('berth.assign');
  if (r.returnValue !== 0) throw new Error(r.output.note);

  const s = await pool.request()
    .input('sailing_id', sql.Int, sailing)
    .input('total', sql.Decimal(8, 2), 1) // finds out-not-received
    .execute('fare.quote');

  const t = await pool.request()
    .input('vessel_id', sql.Int, vessel)
    .input('sailing_id', sql.Int, sailing)
    .execute('berth.assign'); // finds status-ignored
  console.log(s.rowsAffected, t.rowsAffected);
}
