<script setup lang="ts">
/** Everything as one spreadsheet, out and in again. */
import { useQueryClient } from '@tanstack/vue-query'
import { send, type Schemas } from '../api/client'
import FileTold from '../support/FileTold.vue'
import { useFile } from '../support/useFile'

const client = useQueryClient()
const file = useFile(async (read, sure) => {
  const form = new FormData()
  form.append('file', read.file)
  form.append('sure', String(sure))
  const done = await send<Schemas['ArchiveRead']>('/api/tables', form)
  await client.invalidateQueries()
  return done.message
}, true)
</script>

<template>
  <section aria-labelledby="spreadsheet">
    <div class="ledger-head"><h2 id="spreadsheet">As a spreadsheet</h2></div>
    <p class="max-w-prose pt-2">
      Recipes, their weights, stock, pours, orders, and this year's costs and batches, a sheet each. Change
      the stock or a recipe's grams there, add lots or whole recipes below, and read it back: what is new is
      taken in once, and nothing is doubled.
    </p>
    <p class="flex flex-wrap gap-3 pt-3">
      <a href="/api/tables.xlsx" class="key" download>Download the spreadsheet</a>
      <label class="key cursor-pointer focus-within:outline-3">
        Read it back
        <input type="file" accept=".xlsx" class="sr-only" @change="file.pick" />
      </label>
    </p>
    <FileTold :file="file" />
  </section>
</template>
