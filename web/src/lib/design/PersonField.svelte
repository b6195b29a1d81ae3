<!-- Somebody of the company, found by name as one types; kept by login. -->
<script lang="ts">
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { getEditor } from './editor.svelte';
	type Props = {
		label: string;
		placeholder?: string;
		field?: string;
		login: string | undefined;
		onlogin: (login: string | undefined) => void;
	};
	let { label, placeholder = 'Begin to type a name', field, login, onlogin }: Props = $props();
	const id = $props.id();
	const editor = getEditor();
</script>

<PersonPicker
	name={login ? editor.person(login) || login : ''}
	control={{ id, placeholder, 'aria-label': label, 'data-field': field }}
	onpick={(person) => {
		if (person) editor.knows(person.login, person.name);
		onlogin(person?.login);
	}}
/>
