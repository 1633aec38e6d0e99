<script lang="ts">
  import RoundGrid from '../components/RoundGrid.svelte';
  import Section from '../components/Section.svelte';
  import TrialGrid from '../components/TrialGrid.svelte';
</script>

<h1>Proof</h1>
<RoundGrid />
<Section title="Trials">
  <TrialGrid />
</Section>
