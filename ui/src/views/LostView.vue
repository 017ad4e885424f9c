<template>
  <div class="mx-auto max-w-7xl px-6 py-10">
    <h1 class="text-2xl font-bold">There is nothing at this address.</h1>
    <RouterLink to="/" class="underline">To the recipes</RouterLink>
  </div>
</template>
