package request

import (
	"maps"
	"slices"

	"heptad/internal/core/form"
)

// privately takes the private answers out of those that go into events, and
// has them kept apart; those that are there no more are taken away.
func (t *transition) privately(answers form.Answers) (open form.Answers, private []string) {
	open, apart := t.facts.Offering.Form.Apart(answers)
	private = slices.Sorted(maps.Keys(apart))
	for _, key := range private {
		t.seal(Sealing{Key: key, Value: apart[key]})
	}
	for _, key := range t.state.Private {
		if _, still := apart[key]; !still {
			t.seal(Sealing{Key: key})
		}
	}
	return open, private
}

// apart takes the secrets out of what came out of a task, and has them kept for
// whom the request is for: the asker while that is nobody of the directory.
func (t *transition) apart(task *Task, outputs map[string]string) (open map[string]string, secrets []string) {
	if task.Of == "" {
		return outputs, nil
	}
	open = maps.Clone(outputs)
	whom := t.state.Beneficiary()
	if whom == "" {
		whom = t.state.Asker
	}
	for _, o := range t.facts.Offering.Plan.Outputs(task.Of) {
		if text, there := open[o.Key]; o.Secret && there {
			delete(open, o.Key)
			secrets = append(secrets, o.Key)
			t.seal(Sealing{Task: task.Key, Key: o.Key, Value: form.OfText(text), For: whom})
		}
	}
	return open, secrets
}

func (t *transition) seal(s Sealing) { t.effects = append(t.effects, Effect{Kind: Seal, Seals: &s}) }

// keepSecrets notes which outputs of a task are kept apart.
func (t *Task) keepSecrets(keys []string) {
	for _, key := range keys {
		if !slices.Contains(t.Secrets, key) {
			t.Secrets = append(slices.Clip(t.Secrets), key)
		}
	}
}
