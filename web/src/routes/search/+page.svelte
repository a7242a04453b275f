<script lang="ts">
	import SearchAll from '$places/find/SearchAll.svelte';
</script>

<SearchAll />
