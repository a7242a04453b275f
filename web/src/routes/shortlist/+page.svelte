<script lang="ts">
	import { page } from '$app/state';
	import Shortlist from '$places/shortlist/Shortlist.svelte';
</script>

{#key page.url.search}<Shortlist />{/key}
