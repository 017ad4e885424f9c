import { createRouter, createWebHistory } from 'vue-router'
import { onlyBench, wayTo } from './support/me'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/',
      name: 'recipes',
      component: () => (onlyBench() ? import('./views/PourWhich.vue') : import('./views/RecipesView.vue')),
    },
    {
      path: '/recipes/:id',
      component: () => import('./views/DraftShell.vue'),
      props: true,
      children: [
        { path: '', name: 'recipe', component: () => import('./views/RecipeView.vue') },
        { path: 'forecast', name: 'forecast', component: () => import('./views/ForecastView.vue') },
        { path: 'plan', name: 'plan', component: () => import('./views/PlanView.vue') },
      ],
    },
    {
      path: '/recipes/:id/bench-sheet',
      name: 'worksheet',
      component: () => import('./views/WorksheetView.vue'),
      props: true,
    },
    {
      path: '/recipes/:id/ready',
      name: 'ready',
      component: () => import('./views/ReadyView.vue'),
      props: (to) => ({ id: to.params.id, day: Number(to.query.day) || 1 }),
    },
    {
      path: '/recipes/:id/compare',
      name: 'compare',
      component: () => import('./views/CompareView.vue'),
      props: true,
    },
    { path: '/ingredients', name: 'ingredients', component: () => import('./views/IngredientsView.vue') },
    { path: '/colours', name: 'colours', component: () => import('./views/ColoursView.vue') },
    { path: '/others', name: 'others', component: () => import('./views/OthersView.vue') },
    { path: '/stock', name: 'stock', component: () => import('./views/StockView.vue') },
    { path: '/pours', name: 'pours', component: () => import('./views/PoursView.vue') },
    { path: '/pours/past', name: 'past-pour', component: () => import('./views/PastPourView.vue') },
    { path: '/pours/differ', name: 'differ', component: () => import('./views/DifferView.vue') },
    { path: '/score-card', name: 'score-card', component: () => import('./views/ScoreCardView.vue') },
    { path: '/year', name: 'year', component: () => import('./views/YearView.vue') },
    { path: '/calendar', name: 'calendar', component: () => import('./views/CalendarView.vue') },
    { path: '/pours/:id', name: 'pour', component: () => import('./views/PourView.vue'), props: true },
    { path: '/pours/:id/rest', name: 'rest', component: () => import('./views/RestView.vue'), props: true },
    { path: '/rest', name: 'rests', component: () => import('./views/RestsView.vue') },
    { path: '/practice', name: 'practice', component: () => import('./views/PracticeView.vue') },
    {
      path: '/practice/:id',
      name: 'practice-pour',
      component: () => import('./views/PourView.vue'),
      props: (route) => ({ id: String(route.params.id), practice: true }),
    },
    { path: '/shelf', name: 'shelf', component: () => import('./views/ShelfView.vue') },
    {
      path: '/shelf/:id',
      name: 'fragrance',
      component: () => import('./views/FragranceView.vue'),
      props: true,
    },
    { path: '/words', name: 'words', component: () => import('./views/WordsView.vue') },
    { path: '/workshop', name: 'workshop', component: () => import('./views/WorkshopView.vue') },
    { path: '/pair', name: 'pair', component: () => import('./views/PairView.vue') },
    { path: '/:rest(.*)', component: () => import('./views/LostView.vue') },
  ],
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
})

router.beforeEach((to) => wayTo(String(to.name)))

/** What a place is called in the browser's own row of tabs; the places of one recipe add its name themselves. */
const TITLES: Record<string, string> = {
  recipes: 'Recipes',
  recipe: 'Recipe',
  forecast: 'Forecast',
  plan: 'Plan',
  worksheet: 'Order sheet',
  ready: 'Ready check',
  compare: 'Compare',
  ingredients: 'Ingredients',
  colours: 'Colours',
  stock: 'Stock and prices',
  others: 'Other workshops',
  pours: 'Logbook',
  'past-pour': 'From a notebook',
  differ: 'What differed',
  'score-card': 'Score card',
  year: 'Costs and records',
  calendar: 'Calendar',
  pour: 'Pour',
  rest: 'At rest',
  rests: 'Rest',
  practice: 'Practice',
  'practice-pour': 'Practice pour',
  shelf: 'Fragrances',
  fragrance: 'Fragrance',
  workshop: 'Workshop',
  words: 'Words',
}
export const titleOf = (name: unknown) => TITLES[String(name)] ?? ''
router.afterEach((to) => {
  document.title = [titleOf(to.name), 'Round Stone'].filter(Boolean).join(' · ')
})
