<script lang="ts">
	import Search from '$places/search/Search.svelte';
</script>

<Search />
