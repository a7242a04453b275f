<script lang="ts">
	/** What speaks for something and what against it, told by signs as well as by colour. */
	let { good, weak }: { good: string[]; weak: string[] } = $props();
</script>

<ul>
	{#each good as said (said)}<li class="good">{said}</li>{/each}
	{#each weak as said (said)}<li class="weak">{said}</li>{/each}
</ul>

<style>
	li {
		padding-left: 14px;
		text-indent: -14px;
		font-size: 13px;
		line-height: 18px;
	}
	.good::before {
		content: '+ ';
		color: var(--good);
		font-weight: 700;
	}
	.weak::before {
		content: '– ';
		color: var(--struck);
		font-weight: 700;
	}
</style>
