<svelte:head><title>Follow · Heptad</title></svelte:head>
<h1>Follow</h1>
<p>What you ask for shows here, and with whom it lies. <a href="/ask">Ask for something.</a></p>
