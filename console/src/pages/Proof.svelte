<script lang="ts">
  import TrialGrid from '../components/TrialGrid.svelte';
</script>

<h1>Proof</h1>
<TrialGrid />
