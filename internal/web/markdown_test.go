package web

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"golang.org/x/net/html"
)

func TestRich(t *testing.T) {
	for text, want := range map[string]string{
		"":                                      "",
		"Plain.\nOver two lines.":               "<p>Plain.<br>\nOver two lines.</p>\n",
		"One.\n\nTwo.":                          "<p>One.</p>\n<p>Two.</p>\n",
		"if a<b then c>d":                       "<p>if a&lt;b then c&gt;d</p>\n",
		"<b>bold?</b>":                          "<p>&lt;b&gt;bold?&lt;/b&gt;</p>\n",
		"<script>alert(1)</script>":             "<p>&lt;script&gt;alert(1)&lt;/script&gt;</p>\n",
		"**strong** and *soft*":                 "<p><strong>strong</strong> and <em>soft</em></p>\n",
		"- one\n- two":                          "<ul>\n<li>one</li>\n<li>two</li>\n</ul>\n",
		"[out](https://port.example/a)":         "<p><a href=\"https://port.example/a\" rel=\"noreferrer noopener\" target=\"_blank\">out</a></p>\n",
		"[in](/ask/letter)":                     "<p><a href=\"/ask/letter\" rel=\"noreferrer\">in</a></p>\n",
		"[no](javascript:alert)":                "<p>no</p>\n",
		"![picture](https://tracker.example/x)": "<p></p>\n",
		"| a | b |\n|---|---|\n| 1 | 2 |":       "<table>\n<thead>\n<tr>\n<th>a</th>\n<th>b</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>1</td>\n<td>2</td>\n</tr>\n</tbody>\n</table>\n",
	} {
		assert.Equal(t, want, rich(text), text)
	}
}

// Whatever is typed, nothing comes out that does something.
func FuzzRich(f *testing.F) {
	for _, seed := range []string{"a <img src=x onerror=alert(1)>", "[x](java\nscript:alert(1))", "<a href='data:text/html,x'>", "`<script>`", "| a |\n|---|\n| <svg/onload=1> |", "[a]: javascript:x\n\n[a]"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		z := html.NewTokenizer(strings.NewReader(rich(text)))
		for z.Next() != html.ErrorToken {
			token := z.Token()
			assert.NotContains(t, []string{"script", "style", "img", "svg", "iframe", "object", "form", "input", "link", "meta"}, token.Data)
			for _, a := range token.Attr {
				assert.Contains(t, []string{"href", "rel", "target"}, a.Key)
				if a.Key == "href" {
					scheme, _, _ := strings.Cut(strings.ToLower(strings.TrimSpace(a.Val)), ":")
					assert.NotContains(t, []string{"javascript", "data", "vbscript"}, scheme)
				}
			}
		}
	})
}
