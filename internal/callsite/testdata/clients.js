const { Request, TYPES, Connection } = require('tedious');
const hdbext = require('@sap/hdbext');

function tedious(connection, id, done) {
  const request = new Request('berth.assign', (err) => done(err)); // call berth.assign(return unknown, in int32 vessel_id id, out string note) captured read
  request.addParameter('vessel_id', TYPES.Int, id);
  request.addOutputParameter('note', TYPES.NVarChar, null, { length: 200 });
  request.on('returnValue', (name, value) => console.log(name, value));
  request.on('row', (columns) => done(null, columns));
  request.on('doneProc', (count, more, status) => { if (status === 40) done(new Error('taken')); });
  connection.callProcedure(request);

  const text = new Request('EXEC fares.touch @id', () => {}); // call fares.touch(in int32 id)
  text.addParameter('id', TYPES.Int, id);
  connection.execSql(text);
}

function hana(client, id) {
  hdbext.loadProcedure(client, 'TIDE', 'WINDOWS', (err, windows) => { // call TIDE.WINDOWS(in unknown BERTH id) read
    windows({ BERTH: id }, (err, parameters, rows) => {
      rows.forEach((r) => console.log(r, parameters.NEXT));
    });
  });
  const statement = client.prepare('CALL TIDE.CLOSE(?, ?)'); // call TIDE.CLOSE(in unknown id, in string 'x')
  statement.exec([id, 'x']);
}

function snow(connection, id) {
  connection.execute({
    sqlText: 'CALL plan.load(?, :2)', // call plan.load(in unknown id, in int32 7) read
    binds: [id, 7],
    complete: (err, stmt, rows) => rows.length,
  });
}

class Store {
  constructor(pool, proc) { this.pool = pool; this.proc = proc; }
  run(values, sql = `CALL ${this.proc}(?, ?)`) { return this.pool.query(sql, values); }
}

async function wrapped(pool) {
  const store = new Store(pool, 'deck.wrapped'); // call deck.wrapped(in int32 1, in int32 2) read
  return store.run([1, 2]);
}
