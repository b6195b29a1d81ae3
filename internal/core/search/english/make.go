//go:build ignore

// Makes irregular.txt and synonyms.txt from the dictionary files of WordNet 3.0:
//
//	go run make.go DIRECTORY
package main

import (
	"bufio"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"github.com/kljensen/snowball/english"
)

var plain = regexp.MustCompile(`^[a-z]{3,14}$`)

func main() {
	if len(os.Args) != 2 {
		log.Fatal("give the directory of the dictionary")
	}
	write("irregular.txt", irregular(os.Args[1]))
	write("synonyms.txt", synonyms(os.Args[1]))
}

// irregular gives the forms whose stem is not the stem of their word, each with
// the word.
func irregular(dir string) []string {
	var out []string
	seen := map[string]bool{}
	for _, part := range []string{"verb", "noun", "adj"} { // broken is of break before it is anything else
		lines(filepath.Join(dir, part+".exc"), func(line string) {
			form, word, _ := strings.Cut(line, " ")
			word, _, _ = strings.Cut(word, " ")
			if !plain.MatchString(form) || !plain.MatchString(word) || seen[form] || english.Stem(form, false) == english.Stem(word, false) {
				return
			}
			seen[form] = true
			out = append(out, form+" "+word)
		})
	}
	return out
}

// synonyms gives the words that have their first sense in common, where that
// sense was met in texts.
func synonyms(dir string) []string {
	var out []string
	for _, part := range []string{"verb", "noun", "adj"} {
		first := map[string]string{} // sense by word, where it was met
		lines(filepath.Join(dir, "index."+part), func(line string) {
			// lemma pos senses pointers [pointer…] senses met offset [offset…]
			f := strings.Fields(line)
			var pointers int
			if _, err := fmt.Sscan(f[3], &pointers); err != nil {
				log.Fatal(line)
			}
			if met := f[5+pointers]; plain.MatchString(f[0]) && met != "0" {
				first[f[0]] = f[6+pointers]
			}
		})
		of := map[string][]string{}
		for word, sense := range first {
			of[sense] = append(of[sense], word)
		}
		for _, words := range of {
			if len(words) > 1 {
				slices.Sort(words)
				out = append(out, strings.Join(words, " "))
			}
		}
	}
	return out
}

func lines(file string, each func(string)) {
	f, err := os.Open(file)
	if err != nil {
		log.Fatal(err)
	}
	defer f.Close()
	for s := bufio.NewScanner(f); s.Scan(); {
		if !strings.HasPrefix(s.Text(), " ") { // its notice
			each(s.Text())
		}
	}
}

func write(file string, lines []string) {
	slices.Sort(lines)
	if err := os.WriteFile(file, []byte(strings.Join(slices.Compact(lines), "\n")+"\n"), 0o644); err != nil {
		log.Fatal(err)
	}
}
