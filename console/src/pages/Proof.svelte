<script lang="ts">
  import MonitorGrid from '../components/MonitorGrid.svelte';
  import Section from '../components/Section.svelte';
  import TrialGrid from '../components/TrialGrid.svelte';
  import VantageGrid from '../components/VantageGrid.svelte';
</script>

<h1>Proof</h1>
<MonitorGrid />
<Section title="Trials">
  <TrialGrid />
</Section>
<VantageGrid />
