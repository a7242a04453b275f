<script lang="ts">
	import Calendar from '$screens/calendar/Calendar.svelte';
</script>

<Calendar />
