<script lang="ts">
	import { page } from '$app/state';
	import Shortlist from '$screens/shortlist/Shortlist.svelte';
</script>

{#key page.url.search}<Shortlist />{/key}
