declare global {
	namespace App {
		interface PageState {
			/** The page led on to the first entry of its list by itself. */
			led?: boolean;
		}
		interface Error {
			message: string;
			/** Address of what takes the place of something that has ended. */
			next?: string;
		}
	}
}

export {};
