// Makes the demo's records: the same ones each time, from a seed. Everything is invented.
//
//   node demo/scripts/make-records.mjs                    data/ and fixtures/vault/, a few hundred rows of each table
//   node demo/scripts/make-records.mjs --lots 200000 DIR  one large set of CSV files into DIR
import { mkdirSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const here = join(dirname(fileURLToPath(import.meta.url)), '..')

/** A small linear congruential generator (constants of Numerical Recipes, from memory): 0 ≤ x < 1. */
function generator(seed) {
  let state = seed >>> 0
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32
}

function make({ species: speciesCount, sites: siteCount, collections: collectionCount, lots: lotCount, requests: requestCount }) {
  const random = generator(20260214)
  const oneOf = (list) => list[Math.floor(random() * list.length)]
  const between = (low, high) => low + Math.floor(random() * (high - low + 1))
  const digits = (number, width) => String(number).padStart(width, '0')
  const round = (number, places) => Math.round(number * 10 ** places) / 10 ** places
  const day = (from, span) => new Date(Date.parse(from) + between(0, span) * 86_400_000).toISOString().slice(0, 10)
  const weighted = (...pairs) => {
    let left = random() * pairs.reduce((sum, [, weight]) => sum + weight, 0)
    for (const [value, weight] of pairs) if ((left -= weight) < 0) return value
    return pairs[0][0]
  }
  const first = [
    'Moor',
    'Hollow',
    'Grey',
    'Tangle',
    'Marsh',
    'Stone',
    'Ember',
    'Low',
    'Silver',
    'Bitter',
    'Creeping',
    'Tall',
    'Fen',
    'Crag',
    'Dusk',
  ]
  const second = [
    'bluet',
    'fennet',
    'wort',
    'thorn',
    'sedgel',
    'crest',
    'vetchling',
    'madder',
    'spurrel',
    'cress',
    'avence',
    'rampel',
    'sorrow',
    'tansel',
    'burnel',
  ]
  const people = ['Wen Ashby', 'Oro Pell', 'Ivo Lund', 'Mara Quill', 'Tess Arkle', 'Jory Venn', 'Pia Sorrel', 'Nils Brack']
  const districts = ['North Fell', 'Low Vale', 'Carr Side', 'High Fell', 'Saltings', 'Middle Moor']
  const places = ['Hollin', 'Carr', 'Stone', 'Beck', 'Raven', 'Gorse', 'Alder', 'Heron', 'Thistle', 'Wether']
  const ends = ['Reach', 'Bottom', 'Edge', 'Bank', 'Rigg', 'Ghyll', 'Side', 'Nook']
  const towns = ['Aldmere', 'Vessel Bay', 'Corran', 'Tarn Holm', 'Eastwold', 'Pennick', 'Sallow Ford', 'Brigg End']

  const species = Array.from({ length: speciesCount }, (_, i) => {
    const [a, b] = [first[i % first.length], second[Math.floor(i / first.length + i) % second.length]]
    const mass = round(10 ** (random() * 3.5 - 1), 3)
    const kind = weighted(['orthodox', 7], ['intermediate', 2], ['recalcitrant', 1])
    return {
      id: i + 1,
      code: `${a.slice(0, 2)}${b.slice(0, 1)}`.toUpperCase() + digits((i % 99) + 1, 2),
      name: `${a} ${b}${i >= 225 ? ' ' + (i + 1) : ''}`,
      storage_class: kind,
      thousand_seed_mass_g: random() < 0.05 ? null : mass,
      default_pack: mass > 100 ? 10 : mass > 10 ? 50 : mass > 1 ? 100 : 250,
      target_moisture_pct:
        kind === 'orthodox'
          ? round(4 + random() * 2, 1)
          : kind === 'intermediate'
            ? round(8 + random() * 3, 1)
            : round(25 + random() * 10, 1),
      care_level: kind === 'recalcitrant' ? 'high' : weighted(['low', 3], ['normal', 5], ['high', 1]),
    }
  })
  // Codes are unique: a second one of the same letters and digits gets the next free digits.
  const codes = new Set()
  for (const each of species) {
    let number = Number(each.code.slice(-2))
    while (codes.has(each.code)) each.code = each.code.slice(0, -2) + digits((number = (number % 99) + 1), 2)
    codes.add(each.code)
  }
  const site = Array.from({ length: siteCount }, (_, i) => {
    const name = `${places[i % places.length]} ${ends[Math.floor(i / places.length) % ends.length]}${i >= 80 ? ' ' + (Math.floor(i / 80) + 1) : ''}`
    return {
      id: i + 1,
      name,
      district: oneOf(districts),
      keeper_contact: random() < 0.15 ? null : `keeper@${name.toLowerCase().replace(/ /g, '')}.example`,
      latitude: round(53.5 + random() * 1.5, 4),
      longitude: round(-3 + random() * 1.5, 4),
      status: weighted(['open', 6], ['protected', 2], ['closed', 1]),
    }
  })
  const numbers = { wild: 0, garden: 0, exchange: 0 }
  const letter = { wild: 'HW', garden: 'HG', exchange: 'HX' }
  const collection = Array.from({ length: collectionCount }, (_, i) => {
    const kind = weighted(['wild', 6], ['garden', 3], ['exchange', 1])
    const from = kind === 'exchange' && random() < 0.6 ? null : oneOf(site)
    const number = `${letter[kind]}-${digits(++numbers[kind], 8)}`
    const collected = day('2019-05-01', 2300)
    return {
      id: i + 1,
      number,
      site: from?.id ?? null,
      species: oneOf(species).id,
      collected_on: collected,
      status: weighted(['stored', 6], ['cleaned', 2], ['collected', 2], ['draft', 1], ['withdrawn', 0.3]),
      collector: oneOf(people),
      district: from?.district ?? null,
      keeper_contact: from?.keeper_contact ?? null,
      status_note: random() < 0.3 ? oneOf(['dry day', 'after rain', 'second visit', 'few plants, a tenth taken']) : null,
      label: `${number} / ${kind} / ${collected.slice(0, 4)}`,
      kind,
    }
  })
  const lot = Array.from({ length: lotCount }, (_, i) => {
    const from = i < collection.length ? collection[i] : oneOf(collection)
    const mass = species[from.species - 1].thousand_seed_mass_g
    const [tare, net] = [between(5, 20), round((mass ?? 5) * (0.5 + random() * 40), 3)]
    const status = weighted(['stored', 8], ['drying', 1], ['quarantine', 0.7], ['exhausted', 0.4])
    return {
      id: i + 1,
      accession: `HV-${digits(i + 1, 8)}`,
      collection: from.id,
      species: from.species,
      gross_mass_g: round(net + tare, 3),
      tare_mass_g: tare,
      net_mass_g: net,
      seed_estimate: mass === null ? null : Math.round((net / mass) * 1000),
      moisture_pct: round(species[from.species - 1].target_moisture_pct + random() * 2, 1),
      bay: status === 'quarantine' ? 'Q1' : `${oneOf(['A', 'B', 'C', 'D'])}${between(1, 24)}`,
      status,
      handling_notes: random() < 0.25 ? oneOf(['keep dark', 'brittle coats', 'open under hood', 'do not tumble']) : null,
      collection_notes: from.status_note,
      alarm: status === 'quarantine' ? 'act' : weighted(['none', 9], ['watch', 1]),
      viability_pct: random() < 0.1 ? null : between(55, 99),
      next_test_due: day('2026-01-01', 1800),
    }
  })
  const germination_test = lot
    .filter((_, i) => i % 2 === 0)
    .slice(0, 400)
    .map((each, i) => {
      const base = each.viability_pct ?? 80
      const reps = Array.from({ length: 4 }, () => Math.max(0, Math.min(100, base + between(-5, 5))))
      return {
        id: i + 1,
        lot: each.id,
        started_on: day('2024-01-01', 700),
        sown: 400,
        rep1: reps[0],
        rep2: reps[1],
        rep3: reps[2],
        rep4: reps[3],
        mean_pct: reps.reduce((sum, x) => sum + x, 0) / 4,
        spread_pct: Math.max(...reps) - Math.min(...reps),
        within_tolerance: Math.max(...reps) - Math.min(...reps) <= 10,
      }
    })
  const countries = [
    ['GB', 'north'],
    ['GB', 'middle'],
    ['GB', 'south'],
    ['IE', 'overseas'],
    ['FR', 'overseas'],
    ['NO', 'overseas'],
  ]
  const partner = Array.from({ length: Math.max(40, Math.floor(requestCount / 4)) }, (_, i) => {
    const town = towns[i % towns.length]
    const [country_code, region] = oneOf(countries)
    return {
      id: i + 1,
      name: `${oneOf(['Fernery', 'Physic Garden', 'Arboretum', 'Field Station', 'Rock Garden'])} of ${town} ${i + 1}`,
      city: town,
      country_code,
      region,
      permit_expires_on: day('2026-01-01', 900),
    }
  })
  const request_line = []
  const request = Array.from({ length: requestCount }, (_, i) => {
    const from = oneOf(partner)
    const lines = between(1, 4)
    let total = 0
    for (let n = 0; n < lines; n++) {
      const of = oneOf(lot)
      const [packets, size] = [between(1, 5), species[of.species - 1].default_pack]
      total += packets * size
      request_line.push({
        id: request_line.length + 1,
        request: i + 1,
        lot: of.id,
        packets,
        seeds_per_packet: size,
        care_level: species[of.species - 1].care_level,
        note: null,
      })
    }
    return {
      id: i + 1,
      number: `R-${digits(i + 1, 6)}`,
      partner: from.id,
      requested_on: day('2024-06-01', 600),
      purpose: oneOf(['display', 'research', 'restoration']),
      urgency: weighted(['normal', 6], ['low', 3], ['high', 1]),
      region: from.region,
      status: weighted(['sent', 5], ['open', 3], ['packed', 1], ['draft', 1]),
      total_seeds: total,
      line_count: lines,
      note: null,
    }
  })
  return { species, site, collection, lot, germination_test, partner, request, request_line }
}

/** RFC 4180: quotes where they are needed; null is an empty cell. */
function csv(records) {
  const columns = Object.keys(records[0])
  const cell = (value) =>
    value === null ? '' : /[",\r\n]/.test(String(value)) ? `"${String(value).replace(/"/g, '""')}"` : String(value)
  return [columns.join(','), ...records.map((record) => columns.map((name) => cell(record[name])).join(','))].join('\n') + '\n'
}

function write(folder, tables) {
  mkdirSync(folder, { recursive: true })
  for (const [name, records] of Object.entries(tables)) writeFileSync(join(folder, `${name}.csv`), csv(records))
}

const at = process.argv.indexOf('--lots')
if (at >= 0) {
  const lots = Number(process.argv[at + 1])
  const folder = process.argv[at + 2]
  if (!Number.isSafeInteger(lots) || lots < 1 || !folder) {
    console.error('usage: make-records.mjs --lots NUMBER FOLDER')
    process.exit(2)
  }
  write(folder, make({ species: 300, sites: 300, collections: Math.min(lots, 5000), lots, requests: 2000 }))
} else {
  const vault = make({ species: 220, sites: 240, collections: 420, lots: 520, requests: 260 })
  write(join(here, 'data'), vault)
  write(join(here, 'fixtures/vault'), vault)
}
