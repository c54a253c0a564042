package e2e

import (
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// TestASheetIsCarriedAndComesHome: the one file opens from disk with the network
// off, keeps what is ticked over a closing, and its code is taken at home, recorded
// with its revision.
func TestASheetIsCarriedAndComesHome(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=sheet]")
	p.sees(shows("h3", "What the display must show"))
	href, err := rig.Eval[string](p.page, "document.querySelector('a[href*=html]').href")
	p.goes(err)
	text, err := rig.Eval[string](p.page, fmt.Sprintf("fetch(%q).then(r => r.text())", href))
	p.goes(err)
	require.Less(t, len(text), 400_000)
	path := filepath.Join(t.TempDir(), "stoat.html")
	require.NoError(t, os.WriteFile(path, []byte(text), 0o600))

	carry := func() *person {
		page, err := browser.NewPage(390, 844)
		p.goes(err)
		p.goes(page.Offline())
		other := &person{p.T, p.app, page}
		p.goes(page.Go("file://" + path))
		other.sees("document.querySelectorAll('.thing').length > 35")
		return other
	}
	phone := carry()
	phone.clean("carried sheet")
	phone.sees("document.querySelector('#told').hidden")
	// a box for a whole section ticks all in it, and is ticked when all are
	phone.evals("document.querySelector('.all input').click(), 1")
	phone.sees("document.querySelector('.thing input').checked")
	phone.sees("document.querySelectorAll('.thing input:checked').length === 1") // a memory and its name
	phone.evals("document.querySelector('.all input').click(), 1")
	phone.sees("!document.querySelector('.thing input').checked")
	phone.evals("for (const box of document.querySelectorAll('.thing input')) if " +
		"(!box.ariaLabel.endsWith('seen')) box.click(); 1")
	phone.sees("document.querySelectorAll('.all input:checked').length === 2 * " +
		"document.querySelectorAll('.all').length")
	phone.evals("document.querySelectorAll('.thing input')[2].click(), 1")
	before := phone.reads(".code")
	p.goes(phone.page.Go("about:blank"))
	p.goes(phone.page.Go("file://" + path))
	phone.sees("document.querySelectorAll('.thing').length > 35")
	require.Equal(t, before, phone.reads(".code"), "the ticks are still there")
	phone.sees("document.querySelectorAll('.thing input:checked').length === 2 * " +
		"document.querySelectorAll('.thing').length + 1")
	phone.page.Close()

	p.evals(fmt.Sprintf("const box = document.querySelector('.code'); box.value = %q; "+
		"box.dispatchEvent(new Event('input')), 1", before+"X"))
	p.presses("Bring back")
	p.sees(shows(".home .fault", "was not typed as it stands"))
	p.evals(fmt.Sprintf("const again = document.querySelector('.code'); again.value = %q; "+
		"again.dispatchEvent(new Event('input')), 1", before))
	p.presses("Bring back")
	p.sees(shows(".home li", "Revision 1"))
	p.sees(shows(".home li", " 1 seen"))

	// what changed since is all that is left to do
	p.goes(editFirst(p,
		`[{"op":"test","path":"/outputs/2/id","value":"blade_lift"},{"op":"add","path":"/outputs/2/low","value":-64}]`))
	p.sees(shows(".only", "only what changed since revision 1"))
	p.clicks(".only input")
	p.sees(shows("td", "64"))
	p.sees("document.querySelectorAll('.sheet tbody tr').length < 10")
	p.clean("sheet of changes")

	// each figure leads to its why
	p.clicks("a.why")
	p.sees("location.pathname.endsWith('/functions') && document.querySelector('.why')")
}

// TestACarriedSheetWithoutStorage says that nothing is kept, still counts, gives a
// code, and prints.
func TestACarriedSheetWithoutStorage(t *testing.T) {
	p := sit(t)
	id := firstModel(t, p.app)
	text, err := rig.Eval[string](p.page,
		fmt.Sprintf("fetch('/api/models/%s/sheet.html?short=true').then(r => r.text())", id))
	p.goes(err)
	path := filepath.Join(t.TempDir(), "stoat.html")
	require.NoError(t,
		os.WriteFile(path,
			[]byte("<script>Object.defineProperty(window, 'localStorage', {get() { throw new "+
				"DOMException('no', 'SecurityError') }}); window.print = () => { window.printed = true "+
				"}</script>"+text), 0o600))
	page, err := browser.NewPage(390, 844)
	p.goes(err)
	t.Cleanup(page.Close)
	phone := &person{p.T, p.app, page}
	p.goes(page.Go("file://" + path))
	phone.sees("!document.querySelector('#told').hidden")
	before := phone.reads(".code")
	phone.evals("document.querySelector('input').click(), 1")
	phone.sees(fmt.Sprintf("document.querySelector('.code').textContent !== %q", before))
	phone.presses("Print")
	phone.sees("window.printed")
}

// TestWhatIsPrintedIsWhole: the browser's own print of the page and of the carried
// file has every thing on it, from the first section to the last, and no deck.
func TestWhatIsPrintedIsWhole(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=sheet]")
	p.sees(shows("h3", "What the display must show"))
	things, err := rig.Eval[[]string](p.page,
		"[...document.querySelectorAll('.sheet tbody tr td:nth-child(2)')].map(c => c.textContent.trim())")
	p.goes(err)
	require.Greater(t, len(things), 35)
	id := firstModel(t, p.app)
	carried, err := rig.Eval[string](p.page,
		fmt.Sprintf("fetch('/api/models/%s/sheet.html?short=true').then(r => r.text())", id))
	p.goes(err)
	path := filepath.Join(t.TempDir(), "stoat.html")
	require.NoError(t, os.WriteFile(path, []byte(carried), 0o600))
	for _, where := range []string{"", "file://" + path} {
		if where != "" {
			p.goes(p.page.Go(where))
			p.sees("document.querySelectorAll('.thing').length > 35")
		}
		pdf, err := p.page.Print()
		p.goes(err)
		out := filepath.Join(t.TempDir(), "print.pdf")
		require.NoError(t, os.WriteFile(out, pdf, 0o600))
		text, err := exec.Command("pdftotext", "-raw", out, "-").Output()
		require.NoError(t, err)
		all := strings.Join(strings.Fields(string(text)), " ")
		for _, thing := range things {
			require.Contains(t, all, strings.Join(strings.Fields(thing), " "), where)
		}
		require.NotContains(t, all, "Unfold the deck")
	}
}

// printed gives the pages that the browser prints of what it shows, as text.
func (p *person) printed() []string {
	p.Helper()
	pdf, err := p.page.Print()
	p.goes(err)
	out := filepath.Join(p.TempDir(), "printed.pdf")
	require.NoError(p, os.WriteFile(out, pdf, 0o600))
	text, err := exec.Command("pdftotext", "-layout", out, "-").Output()
	require.NoError(p, err)
	return strings.Split(strings.TrimSuffix(string(text), "\f"), "\f")
}

// TestPaperHasTheWhole: the sheet on three pages at most, and the document as text to its last line.
func TestPaperHasTheWhole(t *testing.T) {
	p := sit(t)
	for _, m := range p.models() {
		p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/sheet"))
		p.sees(shows("h3", "What the display must show"))
		pages := p.printed()
		require.LessOrEqual(t, len(pages), 3, m.Name)
		all := strings.Join(pages, " ")
		require.Contains(t, all, m.Name)
		require.NotContains(t, all, "everything", "what is chosen on the page is no business of the paper")
	}
	m := p.models()[0]
	p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/log?view=text"))
	p.sees("document.querySelector('textarea')?.value.includes('axtren-setup')")
	all := strings.Join(strings.Fields(strings.Join(p.printed(), " ")), "")
	for line := range strings.Lines(string(p.ask("GET", "/api/models/"+m.ID+"/export?format=yaml", ""))) {
		require.Contains(t, all, strings.Join(strings.Fields(line), ""))
	}
}

// TestASheetIsQuick on paper and as a page, and bad papers are refused.
func TestASheetIsQuick(t *testing.T) {
	app, err := rig.Start(binary, t.Name())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, app.Stop()) })
	id := firstModel(t, app)
	for path, status := range map[string]int{"sheet": 200, "sheet.pdf?paper=A6": 200,
		"sheet.pdf?paper=A3": 400, "sheet.html": 200, "sheet?since=7": 404, "ticks": 200} {
		start := time.Now()
		r, err := http.Get(app.URL + "/api/models/" + id + "/" + path)
		require.NoError(t, err)
		r.Body.Close()
		require.Equal(t, status, r.StatusCode, path)
		require.Less(t, time.Since(start), 2*time.Second)
	}
}
