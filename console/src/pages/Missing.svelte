<script lang="ts">
  /** A path that leads nowhere. */
</script>

<h1>There is nothing here</h1>
<p>The page may have moved, or what it showed was removed. Search with <kbd>/</kbd>, or go to the <a href="/">overview</a>.</p>
