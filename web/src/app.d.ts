declare global {
	namespace App {
		interface Error {
			message: string;
			/** Address of what takes the place of something that has ended. */
			next?: string;
		}
	}
}

export {};
