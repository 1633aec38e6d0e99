<script lang="ts">
  import MonitorGrid from '../components/MonitorGrid.svelte';
  import Section from '../components/Section.svelte';
  import TrialGrid from '../components/TrialGrid.svelte';
</script>

<h1>Proof</h1>
<MonitorGrid />
<Section title="Trials">
  <TrialGrid />
</Section>
