<script setup lang="ts">
</script>

<template>
  <div class="page"><h1>There is nothing at this address.</h1><p><RouterLink to="/">All projects</RouterLink></p></div>
</template>
