import { expect, test } from 'vitest';
import type { Schema } from '$lib/api/client';
import { become as becomeQuestion, kindHas, kindName, type KindInfo } from './kinds';
import { actionType, become as becomeTask, waitsFor } from './plan/kinds';

type Question = Schema['FormQuestion'];
type Task = Schema['PlanTask'];

const kinds = [
	{ kind: 'text', name: 'Short text', has: ['require', 'preset', 'minLength'] },
	{ kind: 'number', name: 'Number', has: ['require', 'preset', 'min', 'max'] },
	{ kind: 'date', name: 'Date', has: ['require', 'preset', 'min', 'max'] },
	{ kind: 'choice', name: 'One choice', has: ['require', 'preset', 'choices'] },
	{ kind: 'choices', name: 'Several choices', has: ['require', 'preset', 'choices'] },
	{ kind: 'items', name: 'Item pick', has: ['require', 'items'] },
	{ kind: 'table', name: 'Table', has: ['columns'] },
	{ kind: 'computed', name: 'Computed', has: ['gives'] }
] as unknown as KindInfo[];

test('kinds are called as people call them', () => {
	expect([kindName(kinds, 'choice'), kindName(kinds, 'person')]).toEqual(['One choice', 'person']);
	expect([
		kindHas(kinds, 'text', 'minLength'),
		kindHas(kinds, 'date', 'minLength'),
		kindHas(kinds, 'person', 'min')
	]).toEqual([true, false, false]);
});

const full = (kind: Question['kind']): Question =>
	({
		key: 'a',
		kind,
		label: 'A',
		require: 'true',
		preset: '1',
		min: '1',
		max: '9',
		minLength: 3,
		choices: [{ key: 'x', label: 'X' }]
	}) as Question;

test.each<[Question['kind'], Question['kind'], object]>([
	['number', 'text', { key: 'a', kind: 'text', label: 'A', require: 'true', minLength: 3 }],
	['number', 'date', { key: 'a', kind: 'date', label: 'A', require: 'true' }],
	[
		'choice',
		'choices',
		{ key: 'a', kind: 'choices', label: 'A', require: 'true', choices: [{ key: 'x', label: 'X' }] }
	],
	['choice', 'items', { key: 'a', kind: 'items', label: 'A', require: 'true', items: ['card'] }],
	['choice', 'table', { key: 'a', kind: 'table', label: 'A', columns: [] }],
	['choice', 'computed', { key: 'a', kind: 'computed', label: 'A', gives: 'number' }],
	[
		'number',
		'number',
		{ key: 'a', kind: 'number', label: 'A', require: 'true', preset: '1', min: '1', max: '9' }
	]
])('a %s that becomes a %s keeps what both have', (from, to, want) => {
	const q = full(from);
	becomeQuestion(q, to, kinds, ['card']);
	expect(q).toEqual(want);
});

const task = (): Task =>
	({
		key: 't',
		name: 'T',
		kind: 'automatic',
		team: 'keys',
		after: ['a'],
		when: 'true',
		action: { connector: 'badges', do: 'write' },
		tries: ['30s'],
		people: { team: 'keys', enough: 'all' },
		mustDos: ['x'],
		outputs: [],
		undo: { text: 'Back.' }
	}) as unknown as Task;

test.each<[Task['kind'], string[], object]>([
	['manual', ['action', 'tries'], { people: { team: 'keys', enough: 'all' }, mustDos: ['x'] }],
	['automatic', ['people'], { action: { connector: 'badges', do: 'write' }, undo: { text: 'Back.' } }],
	['wait', ['action', 'tries', 'people', 'mustDos', 'outputs', 'undo'], { wait: { of: 'today' } }],
	[
		'message',
		['action', 'tries', 'people', 'mustDos', 'outputs', 'undo'],
		{ words: { to: 'asker', subject: '', text: '' } }
	]
])('a task that becomes %s', (kind, gone, has) => {
	const t = task();
	becomeTask(t, kind);
	expect(t).toMatchObject({ key: 't', name: 'T', kind, after: ['a'], when: 'true', ...has });
	for (const field of gone) expect(t).not.toHaveProperty(field);
	becomeTask(t, 'manual');
	expect(t).not.toHaveProperty('wait');
	expect(t).not.toHaveProperty('words');
});

test('an action is found among those of its connector', () => {
	const connectors = [
		{ key: 'badges', name: 'Badges', actions: [{ key: 'write', name: 'Write' }] }
	] as unknown as Schema['PlanConnector'][];
	const action = (connector: string, what: string) => ({ connector, do: what }) as Schema['PlanAction'];
	expect(actionType(connectors, action('badges', 'write'))?.name).toBe('Write');
	expect(actionType(connectors, action('badges', 'burn'))).toBeUndefined();
	expect(actionType(connectors, action('web', 'write'))).toBeUndefined();
	expect(actionType(connectors, undefined)).toBeUndefined();
});

test('a task waits for others through others, and a circle ends', () => {
	const plan = [
		{ key: 'a', after: ['b'] },
		{ key: 'b', after: ['c', 'e'] },
		{ key: 'c', after: ['a'] },
		{ key: 'd' },
		{ key: 'e', after: ['f'] }
	] as unknown as Task[];
	expect([
		waitsFor(plan, 'a', 'b'),
		waitsFor(plan, 'a', 'f'),
		waitsFor(plan, 'a', 'd'),
		waitsFor(plan, 'd', 'a'),
		waitsFor(plan, 'x', 'a')
	]).toEqual([true, true, false, false, false]);
	expect(waitsFor(plan, 'a', 'a'), 'round in a circle').toBe(true);
});
