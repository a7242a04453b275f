<script lang="ts">
	import House from '$screens/house/House.svelte';
</script>

<House />
