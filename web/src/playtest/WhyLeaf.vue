<script setup lang="ts">
import type { Why } from './connection'

/** Why not: every condition of an object with its value now, down to the one that stops it. */
defineProps<{ why: Why | null; subject: string; pinned: boolean; names: (key: string) => string }>()
defineEmits<{ ask: [key: string]; free: [] }>()
</script>

<template>
  <section class="why" aria-label="Why">
    <template v-if="why && subject">
      <h1>{{ why.name }}</h1>
      <p v-if="why.stopped_by" class="stopped" data-stopped>Stopped by: {{ why.stopped_by }}</p>
      <p v-else class="open">Nothing stops it now.</p>
      <p v-if="pinned" class="dusk small">
        Asked for by you. <button class="link" @click="$emit('free')">Follow the focus again</button>
      </p>
      <ul>
        <li v-for="(line, i) in why.place" :key="i" :class="{ unmet: !line.met }">
          <b aria-hidden="true">{{ line.met ? '✓' : '✗' }}</b
          ><span class="sr">{{ line.met ? 'met' : 'not met' }}</span> {{ line.text
          }}<span v-if="line.detail" class="dusk"> — {{ line.detail }}</span>
        </li>
      </ul>
      <div v-for="cue in why.cues" :key="cue.origin">
        <p class="cue">
          <b class="rule">{{ cue.rule }}</b> <span class="dusk">{{ cue.when }}</span>
        </p>
        <p v-if="cue.passed_over" class="dusk small">
          It fits, but is passed over: an earlier cue runs, and does not go on.
        </p>
        <ul class="needs">
          <li v-for="(need, i) in cue.needs" :key="i" :class="{ unmet: !need.met }">
            <b aria-hidden="true">{{ need.met ? '✓' : '✗' }}</b
            ><span class="sr">{{ need.met ? 'met' : 'not met' }}</span> {{ need.text
            }}<span v-if="need.detail" class="dusk"> — {{ need.detail }}</span>
            <p v-if="need.from?.length" class="from dusk">
              from
              <template v-for="(from, f) in need.from" :key="from.origin"
                >{{ f ? ' · ' : ''
                }}<button class="link" @click="$emit('ask', from.origin.split('/')[1] ?? '')">
                  {{ from.text }}
                </button></template
              >
            </p>
          </li>
          <li v-if="!cue.needs.length" class="dusk">asks for nothing</li>
        </ul>
      </div>
      <template v-if="why.reach.length">
        <h2>In reach</h2>
        <p v-for="one in why.reach" :key="one.key">
          <span v-if="one.cap" class="key cap">{{ one.cap }}</span>
          <button class="link" @click="$emit('ask', one.key)">{{ one.text }}</button>
          <span v-if="one.met" class="focus">{{ ' focus' }}</span> <span class="dusk">{{ one.detail }}</span>
        </p>
      </template>
    </template>
    <p v-else class="dusk">
      Walk up to something, or click a badge: here stands every condition it has, and the one that stops it.
    </p>
  </section>
</template>

<style scoped>
.stopped { color: var(--glow); font-weight: 600; } .open { color: #8fc79a; }
ul { list-style: none; margin: 6px 0; padding: 0; }
li b { color: #8fc79a; margin-right: 4px; } li.unmet b { color: #f0907e; }
.needs { padding-left: 16px; } .cue { margin-top: 8px; } .rule::first-letter { text-transform: uppercase; }
.from { padding-left: 18px; } .dusk { color: var(--dusk); } .cap { margin-right: 6px; } .focus { color: var(--glow); }
h2 { margin-top: 18px; border-bottom: 1px solid var(--night-rule); }
.link { border-bottom-color: #5b6670; } .link:hover { background: var(--night); }
.sr { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
</style>
