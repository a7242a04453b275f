<script lang="ts">
	/** A small outline of a shape, `size` pixels along its longer side. */
	let { width, height, size }: { width: number; height: number; size: number } = $props();

	const scale = $derived(size / Math.max(width, height));
</script>

<i aria-hidden="true" style:width="{Math.round(width * scale)}px" style:height="{Math.round(height * scale)}px"></i>

<style>
	i {
		display: block;
		border: 2px solid var(--ink-soft);
		border-radius: 2px;
	}
</style>
