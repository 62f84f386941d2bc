// Lists the calls with a text among their arguments, as the TypeScript compiler
// reads them: "file<TAB>line<TAB>name<TAB>number of arguments". File names come
// on standard input; a file that the compiler finds faults in is left out.
const fs = require('fs');
const ts = require(process.argv[2]);

const kinds = { '.ts': ts.ScriptKind.TS, '.tsx': ts.ScriptKind.TSX, '.jsx': ts.ScriptKind.JSX, '.js': ts.ScriptKind.JSX };
const isText = (n) => ts.isStringLiteralLike(n) || ts.isTemplateExpression(n);

for (const file of fs.readFileSync(0, 'utf8').split('\n').filter(Boolean)) {
  const text = fs.readFileSync(file, 'utf8');
  const ext = file.slice(file.lastIndexOf('.'));
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, false, kinds[ext] ?? (/[mc]ts$/.test(ext) ? ts.ScriptKind.TS : ts.ScriptKind.JS));
  if (source.parseDiagnostics.length > 0) continue;
  const out = [`${file}\t0\t\t0`];
  const visit = (n) => {
    if (ts.isCallExpression(n) && n.arguments.some(isText)) {
      const f = n.expression;
      const name = ts.isIdentifier(f) ? f : ts.isPropertyAccessExpression(f) ? f.name : undefined;
      if (name) {
        // A line is what a line feed ends.
        const line = text.slice(0, name.getStart(source)).split('\n').length;
        out.push(`${file}\t${line}\t${name.text}\t${n.arguments.length}`);
      }
    }
    ts.forEachChild(n, visit);
  };
  visit(source);
  process.stdout.write(out.join('\n') + '\n');
}
