<script lang="ts">
	import { page } from '$app/state';
</script>

<p>{page.status === 404 ? 'There is nothing at this address.' : page.error?.message} <a href="/">To the shelf</a></p>

<style>
	p {
		padding: 48px;
		text-align: center;
	}
</style>
