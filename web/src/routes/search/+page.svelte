<script lang="ts">
	import Search from '$screens/search/Search.svelte';
</script>

<Search />
