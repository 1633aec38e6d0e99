<script lang="ts">
  import BackupGrid from '../components/BackupGrid.svelte';
</script>

<h1>Backups</h1>
<BackupGrid />
