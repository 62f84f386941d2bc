package ddl_test

import (
	"testing"

	"ramekin/internal/ddl"
	"ramekin/internal/testkit"
)

func benchmarkRead(b *testing.B, d *ddl.Dialect, text []byte) {
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		ddl.Read("large.sql", text, d, ddl.Options{})
	}
}

// Procedures of 100 to 150 lines, as nightly runs have them, in every dialect.
func BenchmarkRead(b *testing.B) {
	for _, d := range ddl.Dialects {
		b.Run(string(d.Name), func(b *testing.B) {
			benchmarkRead(b, d, testkit.Long(string(d.Name), 10<<20))
		})
	}
}

// The demo's routines, which are little more than headers.
func BenchmarkReadShortSQLServer(b *testing.B) {
	benchmarkRead(b, &ddl.SQLServer, testkit.Large(b, 10<<20, "--", "db/desk/berths.sql", "db/desk/passes.sql", "db/desk/fares.sql", "db/desk/types.sql"))
}

func BenchmarkReadShortMySQL(b *testing.B) {
	benchmarkRead(b, &ddl.MySQL, testkit.Large(b, 10<<20, "--", "db/timetable/timetable.sql", "db/timetable/crew.sql"))
}
