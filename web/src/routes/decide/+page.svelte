<svelte:head><title>Decide · Heptad</title></svelte:head>
<h1>Nothing waits for your decision</h1>
<p>When somebody asks for something that needs your yes, it comes here by itself.</p>
