<svelte:head><title>Deliver · Heptad</title></svelte:head>
<h1>No task waits for your teams</h1>
<p>Tasks come here by themselves, as soon as what comes before them is done.</p>
