package hostcode_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"ramekin/internal/hostcode"
)

// callsIn lists the calls of a whole file, as the tests of Java and C# do.
func callsIn(lang *hostcode.Language, src string) string {
	return calls(hostcode.Parse([]byte(src), lang))
}

// TestScriptCallsAreFound looks for calls amid what makes JavaScript hard to read.
func TestScriptCallsAreFound(t *testing.T) {
	for src, want := range map[string]string{
		`x = a / b(1) / c(2); d(/[/"'}]\/(/g.test("x"));`: "b_ c_ d_ test_",
		"if (x) /re(y)/.exec(z); while (a) /[)]/.test(b)": "exec_ test_",
		"a = b\n/c(1)/d(2)": "c_ d_",
		"f(`a ${g(`b ${h('}')} {`)} ${ {k: l(1)}.k } \\` }`); m()": "f_ g_ h_ l_ m",
		"a()\nb()\n;[c()].map(d)\nvar e = f\n(g())":                "a b map_ c f_ g",
		"return_ = 1\nfunction x() { return\na(1) }":               "a_",
		"i\n++\nj\na(i)": "a_",
		`const f = async ({a, b = g(1)}, [c] = h(), ...d) => { await k(a) }`:                                        "g_ h k_",
		`x = { async m() { a() }, get n() { return b() }, [c()]: d(), 'e': f(), ...g() }`:                           "a b c d f g",
		`class A extends m(B) { #p = a(); static { b() } async *c() { yield d() } get e() { return this.#p.f() } }`: "m_ a b d f",
		`label: for (const x of a()) { for await (const y of b(x)) continue label; }`:                               "a b_",
		`for (var i = 0, n = a(i in b); i < n; i++) c(i)`:                                                           "a_ c_",
		`switch (a()) { case b(1): c(); default: d() }`:                                                             "a b_ c d",
		`a?.b?.(c(1))?.[d()]; e ?? f(); g ||= h()`:                                                                  "b_ c_ d f h",
		`export default async function () { a() } export const b = c(); import("d").then(e)`:                        "a c then_ import_",
		`do a(); while (b()) c()`: "b a c",
		"tag`x ${a()}`.b()":       "b a",
		`var s = 'it\'s \
	} a()'; b("\u{1F600}")`: "b_",
		`<!doctype; a()`: "a",
	} {
		assert.Equal(t, want, callsIn(&hostcode.JavaScript, src), src)
	}
}

func TestMarkupIsReadOver(t *testing.T) {
	src := `const v = (x) => <div a="it's {b()}" c={d(x)} {...e()}>
  text f() &lt; {x.map((y) => <b key={g(y)}>{h(y) > 1 && <i/>}</b>)} <></>
</div>
after(1 < 2, x)`
	assert.Equal(t, "d_ e map_ g_ h_ after__", callsIn(&hostcode.JavaScript, src))
}

func TestTypeScriptCallsAreFound(t *testing.T) {
	for src, want := range map[string]string{
		`const x = f<Map<string, A[]>>(g<T>(1)) as unknown as B<C>; h!.i(j satisfies K)`:                                                                                                                    "f_ g_ i_",
		`interface A { m(): void; n: (x: string) => B } type C<T> = T extends (infer U)[] ? U : never; a(1)`:                                                                                                "a_",
		`abstract class A<T> implements B, C<D> { private readonly x: Map<string, number> = a(); constructor(private db: Db, public y = b()) { super() } abstract m(): void; n?(): string { return c() } }`: "a b  c",
		`enum E { A = a(1), B } declare module "x" { } namespace N { export const z = b() }`:                                                                                                                "a_ b",
		`const f = <T,>(x: T): x is Y => a(x); let g = (x?: number, ...y: any[]): Promise<void> => b(x)`:                                                                                                    "a_ b_",
		`function over(a: string): void; function over(a: any) { b(a) } @Dec(c()) class D { @In() e!: F; @G(h()) i() { j() } }`:                                                                             "b_ c h j",
		`const t = a ? (b) : (c, d(1)); x = <any>e(2); for (const k in <Y>f()) g()`:                                                                                                                         "d_ e_ f g",
	} {
		assert.Equal(t, want, callsIn(&hostcode.TypeScript, src), src)
	}
}

// TestPythonCallsAreFound looks for calls amid what makes Python hard to read.
func TestPythonCallsAreFound(t *testing.T) {
	for src, want := range map[string]string{
		"if a(): b(); c()\nelse: d()\n": "a b c d",
		"x = ('one'  # it's \" a comment\n     \"two\" f'{a(1)}'\n     r'\\\\')\nb(x)\n":                         "a_ b_",
		"f(f'{a(\"x\")!r:>{b()}} {{c()}} {d[\"e\"]}', rf\"\\{g()}\")\n":                                          "f__ a_ g",
		"def f(a, /, b: int = g(1), *args: h(), c=i(), **kw) -> j(): return k(*args, **kw)\n":                    "g_ i k__",
		"x = [a(y) for y in b() if c(y)]; z = {d(k): e(v) for k, v in f()}; g(h(i) for i in j())\n":              "a_ b c_ d_ e_ f g_ h_ j",
		"with a() as b, c(1) as (d, e):\n    f()\nwith (\n    g() as h,\n    i(),\n):\n    j()\n":                "a c_ f g i j",
		"match a():\n    case [b, *_] if c(b):\n        d()\n    case _: e()\nmatch = f(match)\n":                "a c_ d e f_",
		"x = a() if b() else c()\ny = lambda z, w=d(): e(z)\nwhile (n := f()): g(n)\n":                           "b a c d e_ f g_",
		"@a(1)\n@b.c\nasync def d():\n    async with e() as f: await g(f)\n    async for h in i(): yield j(h)\n": "a_ e g_ i j_",
		"class A(b(), metaclass=C):\n    x: int = d()\n    def e(self): self.f(self)\n":                          "b d f_",
		"try: a()\nexcept* (B, C) as d: e()\nelse: f()\nfinally: g()\n":                                          "a e f g",
		"x = \\\n    a(\n  b(),\n)\nprint >> c()\nassert d(), e()\ndel f()[0]\n":                                 "a_ b c d e f",
		"a(\"unclosed\ndef f():\n    b()\n":                                                                      "a_ b",
		"x = a(1\n\ndef f():\n    b()\n":                                                                         "a_ b",
		"if True:\n\tif x:\n\t\ta()\n        b()\nc()\n":                                                         "a b c",
		"global x; import a.b as c, d; from . import (e,\n    f as g)\nh()\n":                                    "h",
	} {
		assert.Equal(t, want, callsIn(&hostcode.Python, src), src)
	}
}

// TestPHPCallsAreFound looks for calls amid what makes PHP hard to read.
func TestPHPCallsAreFound(t *testing.T) {
	for src, want := range map[string]string{
		"a(1) <?php b(); ?> c() <?= d() ?> <?php if (e()): ?> f() <?php elseif (g()): h(); else: i(); endif; j();":                                                    "b d e g h i j",
		"<?php $x = \"a {$b->c(\"d\")} $e[0] $f->g ${h} \\$i()\"; j();":                                                                                               "c_ j",
		"<?php $s = <<<EOT\n  x {$a->b()} y\n  EOT . c(); $t = <<<'N'\n{$d()}\nN; e();":                                                                               "b c e",
		"<?php // it's ?> text <?php a(); # b() ?> c() <?php\n/* ?> d() */ e();":                                                                                      "a e",
		"<?php foreach (a() as $k => [$b, 'c' => $d]) { e($d); } for ($i = f(); $i < g(); $i++): h(); endfor;":                                                        "a e_ f g h",
		"<?php $f = fn ($x = a()) => b($x); $g = static function () use ($f): ?int { return c(); };":                                                                  "a b_ c",
		"<?php $x = match (a()) { 1, b() => c(), default => throw d() }; switch (e()): case f(): g(); endswitch;":                                                     "a b c d e f g",
		"<?php class A extends B { use T { x as y; } public function __construct(private ?C $c = new D(a())) { parent::b(); } public int $z = 1 { get => 2; } } c();": "a b c",
		"<?php #[Attr(1)] final class E { const X = 'a', Y = self::X . 'b'; abstract protected function f(): static; } g(named: h(), ...i());":                        "g__ h i",
		"<?php if (!$x = a()) b(); $y = c() ?: d() ?? e(); return f() and g();":                                                                                       "a b c d e f g",
		"<?php $o?->a()?->b; A::c(); $d::e(); (new F(1))->g(); $h['i']->j(); $k();":                                                                                   "a c e g j $k",
		"<?php namespace A\\B; use C\\D as E; \\F\\g(); namespace\\h(); i: goto i; declare(strict_types=1); j();":                                                     "g h j",
		"<?php echo a(), b(); print c(); include d(); clone e(); @f(); (int) g(); isset($h[i()]); exit(j());":                                                         "a b c d e f g isset_ i exit_ j",
		"<?php a(); __halt_compiler(); b(": "a",
	} {
		assert.Equal(t, want, callsIn(&hostcode.PHP, src), src)
	}
}

func TestGoCallsAreFound(t *testing.T) {
	src := "package a\nimport x \"b/c/v2\"\nfunc (r *T[K]) m(a ...int) (n int, err error) {\n\tif v, ok := f(1); ok && g(v) { h() } else if i() { j() }\n\tswitch { case k(): l(); default: m() }\n\tgo n(); defer func() { o() }()\n\tx := []T{{A: p()}, {q()}}\n\treturn r.s(x[t()]...), nil\n}\n"
	assert.Equal(t, "f_ g_ h i j k l m n _ o p q s_ t", strings.ReplaceAll(callsIn(&hostcode.Go, src), "  ", " _ "))
}

func TestVisualBasicCallsAreFound(t *testing.T) {
	for body, want := range map[string]string{
		"A(\"it''s \"\"x\"\"\", b:=C(1))\n' D()\nREM E()\nF() : G()":                                          "A__ C_ F G",
		"Dim x = A _\n  (1), y As New B(C()) With {.D = E()}\nz &= $\"{F(\"}\")} {{G()}}\"":                   "A_ C E F_",
		"If A() Then B() Else C()\nIf D() AndAlso\n  E() Then\nF()\nElseIf G() Then\nH()\nEnd If":             "A B C D E F G H",
		"For Each x As Y In A()\nB(x)\nNext\nFor i = C() To D() Step 2\nNext i\nDo While E()\nLoop Until F()": "A B_ C D E F",
		"Select Case A()\nCase 1 To 2, Is > B()\nC()\nCase Else\nD()\nEnd Select":                             "A B C D",
		"Using a As New B(C()), d = E()\nF()\nEnd Using\nWith G()\n.H(1).I()\nEnd With":                       "C E F G I H_",
		"Try\nA()\nCatch ex As B When C()\nD()\nFinally\nE()\nEnd Try":                                        "A D E",
		"Dim f = Function(x) A(x)\nB(Sub()\nC()\nEnd Sub, D())":                                               "A_ B__ C D",
		"x = DirectCast(A(), B(Of C)) : y = If(D(), E(), F()) : AddHandler g.H, AddressOf I\nCall J()":        "A D E F J",
		"#If DEBUG Then\nA()\n#Else\nB()\n#End If\nDim d = #1/2/2024# : C()":                                  "A B C",
		"[Stop].A() : b!c.D() : e?.F()?.G(1)":                                                                 "A D G_ F",
	} {
		src := "Public Class K\nPublic Sub M()\n" + body + "\nEnd Sub\nPublic Function N() As Integer\nLast()\nEnd Function\nEnd Class\n"
		assert.Equal(t, want+" Last", callsIn(&hostcode.VisualBasic, src), body)
	}
}

// TestUnbalancedBranches: both sides of a directive open a block that is closed once.
func TestUnbalancedBranches(t *testing.T) {
	src := "class A { void M() {\n#if X\n if (a()) {\n#else\n if (b()) {\n#endif\n c(); }\n d(); } void N() { e($\"{f($\"{g(\"}\")}\")}\"); } }\nclass B { void O() { h(); } }"
	assert.Equal(t, "a b c d e_ f_ g_ h", callsIn(&hostcode.CSharp, src))
}

// TestDeepNestingInEveryLanguage: what stands in each other without end is passed over, in
// time in proportion to its length.
func TestDeepNestingInEveryLanguage(t *testing.T) {
	for _, lang := range hostcode.Languages {
		for _, unit := range []string{"(", "[", "{", "a(", "`${", "<a>{", "f'{", "\"{$a[", "if a:\n ", "If a Then ", "x => ", "lambda: ", "not ", "a ? b : ", "new A(", "function(){", "<<<A\n"} {
			src := strings.Repeat(unit, 60000/len(unit))
			if lang == &hostcode.PHP {
				src = "<?php " + src
			}
			assert.NotNil(t, hostcode.Parse([]byte(src), lang))
		}
	}
}
