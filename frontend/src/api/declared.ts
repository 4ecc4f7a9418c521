/** Written by `make api` from what Python declares; do not edit. */

export const SECTIONS = [
  {
    "name": "campaign",
    "title": "Campaigns",
    "one": "campaign",
    "purpose": "Known before their links. Codes, ids and vouchers join arrivals and spend to them; reports show the plain name.",
    "columns": [
      "name",
      "plain_name",
      "code",
      "state",
      "starts",
      "ends",
      "owner"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "level",
    "title": "Level tree",
    "one": "name for an id",
    "purpose": "Groups, ads, keywords and placements under a campaign: the name reports show in place of an id.",
    "columns": [
      "campaign",
      "level",
      "id",
      "name",
      "platform",
      "under"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "goal",
    "title": "Goals",
    "one": "goal",
    "purpose": "What counts as a conversion, which records count, and what each is worth, from which day on.",
    "columns": [
      "name",
      "from",
      "kind",
      "count",
      "value",
      "fixed_value",
      "default_value",
      "click_days"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "status",
    "title": "Status words",
    "one": "status word",
    "purpose": "What a word in the status of a lead or order means. A word that is not here counts.",
    "columns": [
      "word",
      "means"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "quarantine",
    "title": "Quarantine rules",
    "one": "quarantine rule",
    "purpose": "Records that fit are tests: they stay visible and stand in no figure.",
    "columns": [
      "when"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "record",
    "title": "Records by hand",
    "one": "record",
    "purpose": "Records taken out as tests, or put back, whatever the rules say.",
    "columns": [
      "table",
      "id",
      "state"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "separate",
    "title": "Separated people",
    "one": "separation",
    "purpose": "Two identifiers that are not one person, such as a visitor and the address of a shared desk.",
    "columns": [
      "first",
      "second",
      "from"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "channel",
    "title": "Channel rules",
    "one": "rule",
    "purpose": "Asked in this order, before the shared and the built-in ones; the first that fits wins. Drag a row to move it.",
    "columns": [
      "name",
      "when"
    ],
    "place": "plan",
    "ordered": true
  },
  {
    "name": "shared_channel",
    "title": "Shared rules",
    "one": "shared rule",
    "purpose": "Asked after the own rules. This workspace keeps its copy: a list shared elsewhere changes its figures only when you take it over.",
    "columns": [
      "name",
      "when"
    ],
    "place": "plan",
    "ordered": true
  },
  {
    "name": "legend",
    "title": "Legends",
    "one": "legend",
    "purpose": "How a source, or arrivals that fit conditions, use the tag fields from a day on; of several the first that fits holds.",
    "columns": [
      "source",
      "when",
      "from",
      "fixed",
      "utm_term",
      "utm_content",
      "utm_medium",
      "utm_campaign",
      "utm_id"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "rename",
    "title": "Renames and merges",
    "one": "rename",
    "purpose": "A value that is another from a day on; two renamed to one are merged. Raw values stay.",
    "columns": [
      "field",
      "old",
      "new",
      "from"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "naming",
    "title": "Naming patterns",
    "one": "naming pattern",
    "purpose": "Parts a name is put together from; each part is a breakdown of its own.",
    "columns": [
      "field",
      "separator",
      "parts"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "allowed",
    "title": "Allowed words",
    "one": "list",
    "purpose": "Any other word in a link or an arrival is a finding.",
    "columns": [
      "field",
      "words"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "landing_page",
    "title": "Landing pages",
    "one": "page",
    "purpose": "Names for addresses, and the variants of split tests.",
    "columns": [
      "name",
      "address",
      "kind",
      "variants"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "other_cost",
    "title": "Other costs",
    "one": "cost",
    "purpose": "Fees, production, hours, messages: spread evenly over their days.",
    "columns": [
      "campaign",
      "kind",
      "cost",
      "currency",
      "from",
      "to"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "click_price",
    "title": "Prices per click",
    "one": "price",
    "purpose": "Clicks that arrive through a link times its price are its estimated cost.",
    "columns": [
      "campaign",
      "source",
      "medium",
      "content",
      "price",
      "currency",
      "from",
      "to"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "platform",
    "title": "Platforms",
    "one": "platform",
    "purpose": "Where the spend of an ad platform stands in breakdowns, what its paid arrivals are, and the zone of its days.",
    "columns": [
      "name",
      "source",
      "medium",
      "kind",
      "levels",
      "time_zone"
    ],
    "place": "gather",
    "ordered": false
  },
  {
    "name": "yardstick",
    "title": "Yardsticks",
    "one": "yardstick",
    "purpose": "The rules that share a conversion among the touches before it, with their parameters. Without any here the usual eight stand under their own names; a first one is added beside them.",
    "columns": [
      "name",
      "rule",
      "first",
      "middle",
      "last",
      "channel",
      "half_life_days",
      "by"
    ],
    "place": "plan",
    "ordered": false
  },
  {
    "name": "dialect",
    "title": "Dialects",
    "one": "dialect",
    "purpose": "How an ad platform writes its slots. One that arrives unfilled is read as empty.",
    "columns": [
      "platform",
      "opens",
      "closes",
      "landing",
      "slots"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "place",
    "title": "Places",
    "one": "place",
    "purpose": "Where links are put: which box takes them, what to leave alone, how long an address may be.",
    "columns": [
      "name",
      "box",
      "leave",
      "longest",
      "asked_by",
      "source",
      "medium",
      "cells"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "store",
    "title": "Stores",
    "one": "store",
    "purpose": "Shops for apps, apps and the like, where a link ends and only clicks can be counted.",
    "columns": [
      "host",
      "scheme",
      "id_in",
      "id_kind"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "preset",
    "title": "Presets",
    "one": "preset",
    "purpose": "Cells that fill rows of the link sheet in one go.",
    "columns": [
      "name",
      "source",
      "medium",
      "campaign",
      "content",
      "placement",
      "page",
      "cells"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "pattern",
    "title": "Address patterns",
    "one": "pattern",
    "purpose": "What addresses of ads carry, by platform and level; drawn level by level in Mark.",
    "columns": [],
    "place": "",
    "ordered": false
  },
  {
    "name": "own_slot",
    "title": "Own slots",
    "one": "slot",
    "purpose": "Slots of your own, and what they stand for in a campaign or group.",
    "columns": [
      "slot",
      "platform",
      "level",
      "name",
      "value"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "sender",
    "title": "Mail senders",
    "one": "sender",
    "purpose": "How list, series and message come into the links of mails. Links that have tags get its own parameters alone.",
    "columns": [
      "name",
      "kind",
      "source",
      "medium",
      "campaign",
      "content",
      "parameters"
    ],
    "place": "mark",
    "ordered": false
  },
  {
    "name": "source",
    "title": "Sources",
    "one": "source",
    "purpose": "How the files of each source are read.",
    "columns": [
      "name",
      "table"
    ],
    "place": "gather",
    "ordered": false
  },
  {
    "name": "record_list",
    "title": "Lists of records",
    "one": "list",
    "purpose": "Leads, orders and deals filtered and grouped, to be opened again.",
    "columns": [
      "name",
      "asked"
    ],
    "place": "gather",
    "ordered": false
  },
  {
    "name": "matter",
    "title": "Said of matters",
    "one": "matter",
    "purpose": "Matters that were accepted or given to somebody.",
    "columns": [
      "kind",
      "object",
      "accepted_reason",
      "accepted_until",
      "whose"
    ],
    "place": "gather",
    "ordered": false
  }
] as const

export const RULES = [
  {
    "word": "first",
    "label": "First touch",
    "usual": true
  },
  {
    "word": "last",
    "label": "Last touch",
    "usual": true
  },
  {
    "word": "last_marked",
    "label": "Last marked (last that is not direct)",
    "usual": true
  },
  {
    "word": "linear",
    "label": "Linear",
    "usual": true
  },
  {
    "word": "position",
    "label": "Position",
    "usual": true
  },
  {
    "word": "decay",
    "label": "Decay",
    "usual": true
  },
  {
    "word": "custom",
    "label": "Custom weights",
    "usual": false
  },
  {
    "word": "fair_share",
    "label": "Fair share",
    "usual": true
  },
  {
    "word": "removal",
    "label": "Removal",
    "usual": true
  }
] as const

export const VERDICT_WORDS = {
  "grow": "grow",
  "keep": "keep",
  "unsure": "unsure",
  "depends": "depends on the yardstick",
  "too_early": "too early to tell",
  "too_few": "too few to tell",
  "cut": "cut"
} as const

export const LINK_STATE_WORDS = {
  "planned": "planned",
  "placed": "placed",
  "none_yet": "none yet",
  "arriving": "arriving",
  "quiet": "quiet",
  "ended": "ended"
} as const

export const LINK_CAUSES = [
  "another",
  "draft",
  "clicked",
  "quiet",
  "late",
  "none_yet"
] as const

export const SOURCE_STATE_WORDS = {
  "planned": "planned",
  "none_yet": "none yet",
  "arriving": "arriving",
  "quiet": "quiet",
  "ended": "ended"
} as const

export const FATE_WORDS = {
  "same": "same",
  "filled": "filled",
  "lost": "lost",
  "changed": "changed",
  "changed_case": "changed case",
  "unfilled_slot": "unfilled slot",
  "added": "added"
} as const

export const FATES_THAT_ARE_WELL = [
  "same",
  "filled",
  "added"
] as const
