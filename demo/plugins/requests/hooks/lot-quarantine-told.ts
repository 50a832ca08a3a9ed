import { defineHook } from 'patient-hook'

/** When a lot comes into quarantine, each partner with an open request for it gets one message. */
export default defineHook({
  table: 'lot',
  moment: 'after-save',
  on: ['update'],
  watch: ['status'],
  only: (row) => row.became((lot) => lot.status === 'quarantine'),
  load({ rows, store }) {
    const lines = store.children(
      'request_line',
      'lot',
      rows.map((row) => row.id),
      ['request'],
    )
    const ids = [...lines.values()].flatMap((each) => each.map((line) => line.request))
    const open = store.find(
      'request',
      { id: { in: [...new Set(ids)] }, status: { in: ['open', 'packed'] } },
      { fields: ['partner'] },
    )
    const partners = store.byId(
      'partner',
      open.map((request) => request.partner),
      ['name'],
    )
    return { lines, open: new Map(open.map((request) => [request.id, request])), partners }
  },
  each(row, { lines, open, partners }, { send }) {
    const concerned = new Set((lines.get(row.id) ?? []).map((line) => open.get(line.request)?.partner))
    for (const id of concerned) {
      const partner = partners.get(id)
      if (partner)
        send('partner-mail', { to: partner.name, lot: row.now.accession, message: 'This lot is in quarantine for now.' })
    }
  },
})
