package e2e

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// TestAPressThatFellBeside: where what is to be pressed is elsewhere by then, what fell on plain
// ground is pressed again; what else can be pressed is never taken for it.
func TestAPressThatFellBeside(t *testing.T) {
	page, err := browser.NewPage(600, 400)
	require.NoError(t, err)
	t.Cleanup(page.Close)
	// at each press it goes one further, as what stands below a list that grows
	opens := func(places string) {
		require.NoError(t, page.Go("data:text/html,"+url.PathEscape(places+`<script>
			addEventListener('pointerdown', () => {
				const at = document.querySelector('[data-meant]')
				if (!at.nextElementSibling.matches('script')) at.removeAttribute('data-meant')
				at.nextElementSibling.setAttribute('data-meant', '')
			}, true)
			addEventListener('click', (e) => e.target.setAttribute('data-got', ''), true)</script>`)))
	}
	got := func() []string {
		got, err := rig.Eval[[]string](page, "[...document.querySelectorAll('[data-got]')].map(e => e.innerText)")
		require.NoError(t, err)
		return got
	}
	opens(`<button data-meant>this</button>`)
	require.NoError(t, page.Click("[data-meant]"))
	require.Equal(t, []string{"this"}, got())

	opens(`<p data-meant>one</p><p>two</p><button>this</button>`)
	require.NoError(t, page.Click("[data-meant]"))
	require.Equal(t, []string{"one", "two", "this"}, got())

	opens(`<p data-meant>one</p><button>another</button><button>this</button>`)
	require.ErrorContains(t, page.Click("[data-meant]"), ">another</button>")
	require.Equal(t, []string{"one", "another"}, got())

	opens(`<p data-meant>1</p><p>2</p><p>3</p><p>4</p><p>5</p><button>this</button>`)
	require.ErrorContains(t, page.Click("[data-meant]"), "moved away from under each of 5 presses")
}
