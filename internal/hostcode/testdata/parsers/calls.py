"""Lists the calls with a text among their arguments, as Python's ast reads them.

Writes "file<TAB>line<TAB>name<TAB>number of arguments"; file names come on
standard input, and a file that Python finds faults in is left out.
"""
import ast
import sys
import warnings

warnings.simplefilter("ignore")


def is_text(node):
    return isinstance(node, ast.JoinedStr) or isinstance(node, ast.Constant) and isinstance(node.value, (str, bytes))


for file in filter(None, sys.stdin.read().split("\n")):
    with open(file, "rb") as f:
        text = f.read()
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError):
        continue
    print(file, 0, "", 0, sep="\t")
    for node in ast.walk(tree):
        if not isinstance(node, ast.Call) or not any(map(is_text, node.args)):
            continue
        f = node.func
        name = f.id if isinstance(f, ast.Name) else f.attr if isinstance(f, ast.Attribute) else None
        if name:
            # A name ends where its expression does.
            print(file, f.end_lineno, name, len(node.args) + len(node.keywords), sep="\t")
