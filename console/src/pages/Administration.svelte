<script lang="ts">
  import Columns from '../components/Columns.svelte';
  import KeyRotation from '../components/KeyRotation.svelte';
  import OperatorGrid from '../components/OperatorGrid.svelte';
  import OwnAccount from '../components/OwnAccount.svelte';
</script>

<h1>Administration</h1>
<p><a href="/administration/descriptions">Device descriptions</a> tell how each kind of device is read and changed; <a href="/administration/jobs">jobs</a> are the work in the background.</p>
<Columns>
  {#snippet main()}<OperatorGrid />{/snippet}
  {#snippet side()}
    <OwnAccount />
    <KeyRotation />
  {/snippet}
</Columns>
