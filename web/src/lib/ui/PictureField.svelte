<!-- A picture, made small enough to travel with what it stands on. -->
<script lang="ts">
	type Props = { label: string; value: string | undefined; onpicture: (uri: string | undefined) => void };
	let { label, value, onpicture }: Props = $props();
	const id = $props.id();
	const largest = 240; // pixels of the longer side
	let trouble = $state('');

	/** A drawing stays as it is; only plain shapes are taken, which the examination tells. */
	const drawing = (file: File): Promise<string> =>
		new Promise((resolve, reject) => {
			const reader = new FileReader();
			reader.onload = () => resolve(reader.result as string);
			reader.onerror = () => reject(new Error(file.name));
			reader.readAsDataURL(file);
		});
	async function take(file: File | undefined) {
		trouble = '';
		if (!file) return;
		try {
			if (file.type === 'image/svg+xml') return onpicture(await drawing(file));
			const picture = await createImageBitmap(file);
			const scale = Math.min(1, largest / Math.max(picture.width, picture.height));
			const canvas = document.createElement('canvas');
			canvas.width = Math.max(1, Math.round(picture.width * scale));
			canvas.height = Math.max(1, Math.round(picture.height * scale));
			canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
			onpicture(canvas.toDataURL('image/webp', 0.85));
		} catch {
			trouble = `${file.name} is no picture that can be read.`;
		}
	}
</script>

<div class="picture">
	{#if value}<img src={value} alt="" />{/if}
	<input
		{id}
		class="sr-only"
		type="file"
		accept="image/*"
		onchange={(e) => void take(e.currentTarget.files?.[0])}
	/>
	<label class="btn plain small" for={id}>{value ? 'Another' : label}</label>
	{#if value}<button type="button" class="btn quiet small" onclick={() => onpicture(undefined)}
			>Remove the picture</button
		>{/if}
	{#if trouble}<p class="problem small">{trouble}</p>{/if}
</div>

<style>
	.picture {
		display: flex;
		gap: 0.6rem;
		align-items: center;
		flex-wrap: wrap;
	}
	img {
		height: 3rem;
	}
	.small {
		font-size: 0.8125rem;
	}
	.sr-only:focus-visible + .btn {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
</style>
