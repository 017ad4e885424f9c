import { ref } from 'vue'

/** Round Stone was renewed while this page was open: parts it had not loaded yet are gone. */
export const renewed = ref(false)
