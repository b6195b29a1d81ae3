import { Refused, unreachable, type Problem } from '$lib/api/client';

/** Fetches a file and keeps it on the person's computer; throws Refused when it is not given. */
export async function download(path: string, name: string) {
	let got: Response;
	try {
		got = await fetch(path);
	} catch {
		throw new Refused(unreachable);
	}
	if (!got.ok) throw new Refused((await got.json().catch(() => unreachable)) as Problem);
	const url = URL.createObjectURL(await got.blob());
	const link = Object.assign(document.createElement('a'), { href: url, download: name });
	link.click();
	setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
