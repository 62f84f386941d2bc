package report

import (
	"io"
	"net/url"

	"github.com/owenrumney/go-sarif/v3/pkg/report/v210/sarif"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
)

// SARIF writes the findings in the Static Analysis Results Interchange Format,
// version 2.1.0 (OASIS), with the rules that fired, related places and mends
// that are certain.
func (r *Result) SARIF(w io.Writer, version string) error {
	name := "ramekin"
	driver := sarif.NewToolComponent()
	driver.Name, driver.Version = &name, &version
	run := sarif.NewRun().WithTool(sarif.NewTool().WithDriver(driver)).WithColumnKind("unicodeCodePoints")
	index := map[string]int{}
	for _, f := range r.Findings {
		if _, ok := index[f.Rule.Name]; !ok {
			index[f.Rule.Name] = len(index)
			addSARIFRule(run, f.Rule)
		}
		res := sarif.NewRuleResult(f.Rule.Name).WithRuleIndex(index[f.Rule.Name]).WithLevel(sarifLevel(f.Severity)).
			WithMessage(sarif.NewTextMessage(f.Message())).AddLocation(sarifLocation(f.At))
		for i, rel := range f.Related {
			at := callsite.Span{File: rel.At.File, Line: rel.At.Line, Column: rel.At.Column}
			loc := sarifLocation(at).WithMessage(sarif.NewTextMessage(rel.Message))
			loc.ID = i
			res.AddRelatedLocation(loc)
		}
		if f.Fix != nil {
			res.AddFixe(sarifFix(f.Fix))
		}
		run.AddResult(res)
	}
	return sarif.NewReport().AddRun(run).PrettyWrite(w)
}

func addSARIFRule(run *sarif.Run, r *check.Rule) {
	short, full := "Fires when "+r.Fires+".", r.Why
	d := run.AddRule(r.Name)
	d.ShortDescription = sarif.NewMultiformatMessageString()
	d.ShortDescription.Text = &short
	d.FullDescription = sarif.NewMultiformatMessageString()
	d.FullDescription.Text = &full
	help := full
	for _, ex := range r.Examples {
		help += "\n\nThe mistake (" + ex.Language + "):\n" + ex.Wrong + "\n\nThe mend:\n" + ex.Right
	}
	d.Help = sarif.NewMultiformatMessageString()
	d.Help.Text = &help
	d.DefaultConfiguration = sarif.NewReportingConfiguration()
	d.DefaultConfiguration.Level = sarifLevel(r.Severity)
}

func sarifLevel(s check.Severity) string {
	switch s {
	case check.Error:
		return "error"
	case check.Warning:
		return "warning"
	}
	return "note"
}

// sarifURI is a path as a relative reference.
func sarifURI(path string) string { return (&url.URL{Path: path}).String() }

func sarifRegion(at callsite.Span) *sarif.Region {
	region := sarif.NewRegion().WithStartLine(max(at.Line, 1)).WithStartColumn(max(at.Column, 1))
	if at.EndLine > 0 {
		region = region.WithEndLine(at.EndLine).WithEndColumn(max(at.EndColumn, 1))
	}
	return region
}

func sarifLocation(at callsite.Span) *sarif.Location {
	place := sarif.NewPhysicalLocation().WithArtifactLocation(sarif.NewSimpleArtifactLocation(sarifURI(at.File))).WithRegion(sarifRegion(at))
	return sarif.NewLocationWithPhysicalLocation(place)
}

func sarifFix(f *check.Fix) *sarif.Fix {
	fix := sarif.NewFix().WithDescription(sarif.NewTextMessage(f.Description))
	for _, e := range f.Edits {
		text := sarif.NewArtifactContent()
		text.Text = &e.Text
		change := sarif.NewArtifactChange().WithArtifactLocation(sarif.NewSimpleArtifactLocation(sarifURI(e.At.File)))
		change.Replacements = append(change.Replacements, sarif.NewReplacement().WithDeletedRegion(sarifRegion(e.At)).WithInsertedContent(text))
		fix.ArtifactChanges = append(fix.ArtifactChanges, change)
	}
	return fix
}
