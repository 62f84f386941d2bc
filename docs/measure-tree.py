"""Makes a tree of 24,000 files and about 300 MB in six languages, with a call of
a routine in one file of a hundred, and times `ramekin calls` beside `grep -rE`
on it. Give the ramekin program, a folder to make the tree in, and folders with
source to take files from.

    python3 docs/measure-tree.py ./ramekin /tmp/tree JDK_SOURCES PYTHON_LIB NODE_MODULES GO_SRC PHP_LIB
"""
import os
import resource
import subprocess
import sys
import time

program, root, *sources = sys.argv[1:]
FILES, BYTES = 24_000, 300_000_000
CALLS = {
    ".java": "class C%d { void m(java.sql.Connection c, int i) throws Exception { var s = c.prepareCall(\"{call berth.assign(?)}\"); s.setInt(1, i); s.execute(); } }\n",
    ".py": "\n\ndef m_%d(cur, i):\n    cur.execute(\"{CALL berth.assign (?)}\", i)\n",
    ".js": "\nasync function m_%d(pool, i) { await pool.query('CALL berth.assign(?)', [i]); }\n",
    ".go": "\nfunc m_%d(db *sql.DB, i int) { db.Exec(\"CALL berth.assign(?)\", i) }\n",
    ".php": "\nfunction m_%d(PDO $p, int $i) { $p->prepare('CALL berth.assign(?)')->execute([$i]); }\n",
    ".cs": "class C%d { void M(SqlConnection c, int i) { var x = new SqlCommand(\"berth.assign\", c) { CommandType = CommandType.StoredProcedure }; x.Parameters.AddWithValue(\"@id\", i); x.ExecuteNonQuery(); } }\n",
}
CSHARP = "namespace N%d {\n" + "".join(
    "    public class K%d { private int value; public int Next(int step) { if (step > %d) { value += step; } return value; } }\n" % (i, i) for i in range(90)) + "}\n"


def texts():
    found = {ext: [] for ext in CALLS}
    for source in sources:
        for folder, folders, names in os.walk(source):
            folders.sort()
            for name in sorted(names):
                ext = os.path.splitext(name)[1]
                if ext in found and not name.endswith(".min.js"):
                    path = os.path.join(folder, name)
                    if 200 < os.path.getsize(path) < 100_000:
                        found[ext].append(path)
    return found


if not os.path.isdir(root):
    found = texts()
    kinds = [ext for ext in CALLS if found[ext] or ext == ".cs"]
    written = calls = 0
    for i in range(FILES):
        ext = kinds[i % len(kinds)]
        paths = found[ext]
        if ext == ".cs":
            text = CSHARP % i
        else:
            with open(paths[i // len(kinds) * 7 % len(paths)], errors="replace") as f:
                text = f.read()
        left = (BYTES - written) // (FILES - i)
        while len(text) < left * 0.7:  # small files are repeated to come to the size
            text += text
        if i % 101 == 0:
            text = text.rstrip().removesuffix("?>") + "\n" + CALLS[ext] % i
            calls += 1
        path = os.path.join(root, "part%d" % (i // 200), "f%d%s" % (i, ext))
        os.makedirs(os.path.dirname(path), exist_ok=True)
        with open(path, "w") as f:
            f.write(text)
        written += len(text)
    print("%d files, %.0f MB, %d calls" % (FILES, written / 1e6, calls))

words = r"prepareCall|CallableStatement|StoredProcedure|callproc|[\"'`{ ](call|CALL|exec|EXEC|execute|EXECUTE) "


def timed(command):
    start = time.monotonic()
    subprocess.run(command, stdout=subprocess.DEVNULL)
    return time.monotonic() - start


best = {}
for _ in range(4):  # the first run warms the cache
    for name, command in (("grep", ["grep", "-rEc", words, root]), ("ramekin", [program, "calls", "--format", "json", root])):
        seconds = timed(command)
        best.setdefault(name, []).append(seconds)
for name, seconds in best.items():
    print("%-8s %s" % (name, " ".join("%.2f s" % s for s in seconds[1:])))
print("ratio    %.2f" % (min(best["ramekin"][1:]) / min(best["grep"][1:])))
print("memory   %.0f MB" % (resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024))
