const mysql = require('mysql2/promise');
const { Client } = require('pg');
const html = String.raw;

async function ferry(pool, id) {
  const [rows] = await pool.query('CALL tide.windows(?, @out); SELECT @out', [id]); // call tide.windows(in unknown id, inout unknown @out) read
  await pool.execute('CALL tide.close(?, ?)', [id, 'now']); // call tide.close(in unknown id, in string 'now')
  pool.query({ text: 'CALL plan.load($1, NULL)', values: [id] }, (err, res) => { // call plan.load(in unknown id, in unknown NULL)
    if (err) throw err
  })
  const later = `CALL tide.${id}()`; // call ?
  await pool.query(later);
  return rows
}

const view = (x) => <div title="CALL a.b(1)">{x.map((y) => <b key={y}>CALL c.d(2)</b>)}</div>

async function tagged(sql, deck, n) {
  await sql`CALL deck.open(${deck}, ${n + 1})` // call deck.open(in unknown deck, in unknown n + 1)
  const page = html`CALL deck.page(${deck})`
  return sql`SELECT deck.weight(${deck}) AS w` // call deck.weight(in unknown deck) read
}
