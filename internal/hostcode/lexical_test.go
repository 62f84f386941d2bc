package hostcode_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"ramekin/internal/hostcode"
)

// calls lists every call in a tree by the name of what it calls, with its
// number of arguments.
func calls(t *hostcode.Tree) string {
	var out []string
	var visit func(id hostcode.NodeID)
	visit = func(id hostcode.NodeID) {
		if t.Kind(id) == hostcode.Call {
			n := -1
			for range t.Children(id) {
				n++
			}
			out = append(out, t.Name(t.Child(id, 0))+strings.Repeat("_", n))
		}
		for c := range t.Children(id) {
			visit(c)
		}
	}
	visit(t.Root)
	return strings.Join(out, " ")
}

func javaSource(statements string) *hostcode.Tree {
	return hostcode.Parse([]byte("class C { void m() { "+statements+" } }"), &hostcode.Java)
}

func csharpSource(statements string) *hostcode.Tree {
	return hostcode.Parse([]byte("class C { void M() { "+statements+" } }"), &hostcode.CSharp)
}

// TestJavaCallsAreFound looks for calls amid what makes reading hard.
func TestJavaCallsAreFound(t *testing.T) {
	for src, want := range map[string]string{
		`a("}"); b('}'); c("\""); d('\'');`:                                           "a_ b_ c_ d_",
		"a(\"\"\"\n } \"quoted\" \\\"\"\" end\n\"\"\"); b();":                         "a_ b",
		`/* a(); */ b(); // c();` + "\n d();":                                         "b d",
		`x = (a) -> b(a); c();`:                                                       "b_ c",
		`x = (int) a(1); y = (A<B>) b(2); z = (A & B) c(3);`:                          "a_ b_ c_",
		`if (a() < b() && c() > d()) e();`:                                            "a b c d e",
		`List<Map<String, ? extends List<int[]>>> x = a(); b();`:                      "a b",
		`Foo.<A, B>a(1).b();`:                                                         "b a_",
		`a(b(c(1), 2), d());`:                                                         "a__ b__ c_ d",
		`for (;;) { a(); break; } do b(); while (c());`:                               "a c b",
		`switch (a()) { case X -> b(); case Y, Z -> { c(); } default -> throw d(); }`: "a b c d",
		`var r = switch (x) { case String s when a(s) -> b(); case A(int y, var z) -> c(); default -> 0; };`: "a_ b A__ c",
		`synchronized (this) { a(); } assert x : "y"; b();`:                                                  "a b",
		`new A() { void q() { a(); } }.b();`:                                                                 "b a",
		`int[] x = new int[a()], y = {b(), c()}; d(x[e()]);`:                                                 "a b c d_ e",
		`@SuppressWarnings("x") int y = a(); final var z = b();`:                                             "a b",
		`Supplier<A> s = A::new; B f = this::g; a(B[]::new);`:                                                "a_",
		`class L { void q() { a(); } } record R(int x) { R { b(); } } c();`:                                  "a b c",
		`try (var a = b(); c) { d(); } catch (E | F e) { g(); } finally { h(); }`:                            "b d g h",
		`x ? a() : y ? b() : c();`:                                                                           "a b c",
		`i = i++ + ++j - -k; a(i >>> 2, i << 3, ~i, !x);`:                                                    "a____",
		`label: for (A a : b()) { continue label; } c();`:                                                    "b c",
		`char c = '\u0041'; String s = "\u0022 a() \u0022"; b();`:                                            "b",
		`return a() instanceof B b && c(b);`:                                                                 "a c_",
		`a(x -> { b(); return c(x); }, () -> d());`:                                                          "a__ b c_ d",
		`throw new E("x", a());`:                                                                             "a",
		`this.a().b.c().d = e();`:                                                                            "c a e",
		`super.a(); Outer.this.b(); Outer.super.c();`:                                                        "a b c",
		`yield(); a();`: "yield a",
	} {
		assert.Equal(t, want, calls(javaSource(src)), src)
	}
}

func TestCSharpCallsAreFound(t *testing.T) {
	for src, want := range map[string]string{
		`A(@"c:\"); B("\\"); C('"'); D(@"""x""");`:                                           "A_ B_ C_ D_",
		`A($"{B("x")} {{no()}} {C():N2,-5}"); D();`:                                          "A_ B_ C D",
		`A($@"{B(@"y")}\"); C();`:                                                            "A_ B_ C",
		"A(\"\"\"no() \" x\"\"\"); B(\"\"\"\"a\"\"\"b\"\"\"\");":                             "A_ B_",
		"A($$\"\"\"{no()} {{B()}}\"\"\"); C();":                                              "A_ B C",
		"\n#if DEBUG\nA();\n#else\nB();\n#endif\nC();":                                       "A B C",
		"\n#region x(\nA();\n#endregion\nB();":                                               "A B",
		`var x = await A(); await foreach (var y in B()) C(y);`:                              "A B C_",
		`F(out var a, out int b, ref c, in d, e: 1); G();`:                                   "F_____ G",
		`var (a, b) = F(); (x, y) = (G(), H());`:                                             "F G H",
		`if (x is { A: > 3 } y && F(y)) G();`:                                                "F_ G",
		`var z = x switch { 1 => F(), > 2 and < 5 => G(), { A: 1 } => H(), _ => I() };`:      "F G H I",
		`var q = from a in F() where G(a) orderby H(a) select I(a); J();`:                    "F G_ H_ I_ J",
		`using (F()) using (var a = G()) { H(); } using var b = I();`:                        "F G H I",
		`Func<int, int> f = static x => F(x); Action g = delegate { G(); };`:                 "F_ G",
		`A?.B()?.C[D()]?.E(); F!.G();`:                                                       "E B D G",
		`int L(int a) => F(a); void M2<T>(T t) where T : class { G(t); } H();`:               "F_ G_ H",
		`checked { F(); } unsafe { G(); } fixed (int* p = H()) { I(); }`:                     "F G H I",
		`lock (F()) { G(); } try { H(); } catch (E e) when (I(e)) { J(); } finally { K(); }`: "F G H J K",
		`x ??= F(); x = y ?? G() ?? throw H();`:                                              "F G H",
		`var a = new A { B = F(), C = { G(), { 1, H() } }, [I()] = J() };`:                   "F G H I J",
		`int[] a = [F(), ..G()]; A[^1] = B[1..H()];`:                                         "F G H",
		`goto done; done: F(); yield return G(); yield break;`:                               "F G",
		`var t = typeof(A<>); nameof(F); default(B); sizeof(int); H();`:                      "typeof_ nameof_ sizeof_ H",
		`F<A, B>(1); G.H<int[]>(2); if (a < b || c > (d)) I();`:                              "F_ H_ I",
		`@class.F(); @if();`:                          "F if",
		`A = (B)F(); C = (D<E>)(G()); H = (i) - J();`: "F G J",
	} {
		got := calls(csharpSource(src))
		assert.Equal(t, want, got, src)
	}
}

// TestCommentsAreKept for whoever looks for suppressions in them.
func TestCommentsAreKept(t *testing.T) {
	var p hostcode.Parser
	src := "class C { // one\n /* two\n */ String s = \"// no\"; }"
	p.Parse([]byte(src), &hostcode.Java, &hostcode.Tree{})
	var got []string
	for _, c := range p.Comments() {
		got = append(got, src[c.Start:c.End])
	}
	assert.Equal(t, []string{"// one", "/* two\n */"}, got)
}
