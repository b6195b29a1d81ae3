/** Words typed so far, by request or task: looking at another one in between loses none. */
export const remarks = $state<Record<string, string>>({});
