"""What exports call their columns: common words of the trade in several languages, by column of a table.

Words are folded, without signs. None is taken from a certain program: they are what people and dictionaries say.
"""

from __future__ import annotations

from collections.abc import Mapping

_TIME = (
    "date|time|day|datetime|timestamp|date time|created|created at|created on|create date|occurred|when|datum|zeit|tag|uhrzeit|"
    "zeitpunkt|erstellt|erstellt am|angelegt am|date de creation|cree le|jour|heure|horodatage|fecha|dia|hora|creado|creado el|"
    "data|giorno|ora|creato il|dag|tijd|tijdstip|aangemaakt|aangemaakt op|data de criacao|criado em|tidspunkt|oprettet|dato|"
    "skapad|tid|utworzono|dzien|czas|started|start|begin|began|session start|arrived|arrived at|visited|visited at|visit time|"
    "received|received at|submitted|submitted at|placed|placed at|placed on|ordered at|ordered on|order date|order time|"
    "bestelldatum|bestellt am|date de commande|fecha de pedido|data ordine|besteldatum|purchase date|sold at|booked at|booked on|"
    "closed|closed at|close date|converted at|hit time|reported on|reporting date|report date|period|buchungstag|week|week of|"
    "week starting|week beginning|week start|starting week|month|woche|kalenderwoche|semaine|semana|settimana|uke|vecka|uge|tydzien|"
    "monat|mois|mes|mese|maand|manad|maned|miesiac|datum en tijd|pvm|paiva|paivamaara|tarih|gun|den|datum a cas|nap|idopont|"
    "data zamowienia|日付|日時|日期|날짜|дата|التاريخ|תאריך|ημερομηνια|ngay|tanggal"
)
_MAIL = (
    "email|e mail|mail|email address|e mail address|mail address|e mail adresse|emailadresse|mailadresse|adresse e mail|courriel|"
    "correo|correo electronico|posta elettronica|e mailadres|mailadres|e post|customer email|customer e mail|contact email|"
    "contact e mail|buyer email|kunden e mail"
)
_PHONE = "phone|telephone|phone number|mobile|tel|telefon|telefonnummer|handy|telephone portable|telefono|telefoon|telefone|telefonnr"
_VISITOR = (
    "visitor|visitor id|visitor key|client|client id|cookie|cookie id|browser id|device id|user|user id|besucher|besucher id|"
    "besucherkennung|visiteur|id visiteur|visitante|visitatore|bezoeker|bezoeker id|session user"
)
_CLICK = "click id|click mark|click key|klick id|klickkennung|id de clic|id clic|id de clique|klik id"
_STATUS = "status|state|order status|status der bestellung|statut|estado|stato|zustand|lead status|bestellstatus"
_CURRENCY = "currency|currency code|wahrung|waehrung|devise|moneda|valuta|moeda|waluta|curr"
_CAMPAIGN = (
    "campaign|campaign name|kampagne|kampagnenname|campagne|nom de la campagne|nom campagne|campana|nombre de campana|campagna|"
    "nome campagna|campanha|kampanj|kampanje|kampania|campaign title|promotion|kampanya|kampany|kampan|kampane|kampanja|кампания|"
    "キャンペーン|广告系列|캠페인|الحملة|קמפיין|campanie|ekstatreia|chien dich|kampanye|kampagnenavn|kampanjnamn|naam campagne"
)
_CAMPAIGN_ID = "campaign id|campaign no|campaign number|kampagnen id|kampagnennummer|id campagne|id de campana|campagne id|id campagna|campaign key"
_GROUP = "ad group|ad group name|kampagnengruppe|anzeigengruppenname|groupe d annonces|grupo de anuncios|gruppo di annunci|annonsgrupp|annoncegruppe|annonsegruppe|grupa reklam|group|group name|line|line item|anzeigengruppe|gruppe|groupe|grupo|gruppo|advertentiegroep|groep"
_AD = "ad|ad name|creative|creative name|anzeige|anzeigenname|annonce|anuncio|annuncio|advertentie|motiv"
_COST = (
    "cost|costs|spend|spent|ad spend|total cost|total spend|media cost|net cost|kosten|ausgaben|werbekosten|cout|"
    "couts|depense|depenses|coste|costo|costes|gasto|gastos|spesa|uitgaven|"
    "custo|custos|kostnad|kostnader|koszt|koszty|omkostninger|money spent|billed|amount spent|spend amount|naklady|cena celkem|"
    "koltseg|harcama|maliyet|kustannukset|kulut|cheltuieli|расход|расходы|затраты|стоимость|費用|コスト|ご利用金額|花费|消耗|비용|"
    "التكلفة|עלות|κοστος|chi phi|biaya|gastado|importe gastado|montant depense|importo speso|betrag ausgegeben|ausgegeben|"
    "bedrag besteed|besteed|uitgegeven|forbrug|forbruk|forbrukt|annonskostnad|wydatki|wydano|utrata|utraceno|elkoltott osszeg"
)
_TAX = "vat amount|dph|afa|kdv|alv|ндс|消費税|税|tax|taxes|vat|sales tax|gst|port tax|steuer|mwst|mehrwertsteuer|ust|tva|taxe|iva|impuesto|btw|imposto|moms|tax amount|steuerbetrag"
_TOTAL = (
    "total|amount|value|grand total|order total|order value|total price|price|revenue|sum|gross|gross amount|gross total|"
    "gesamt|gesamtbetrag|betrag|summe|bestellwert|umsatz|brutto|endbetrag|montant|montant total|valeur|total ttc|prix|importe|"
    "importe total|valor|importo|totale|bedrag|totaal|orderbedrag|belopp|kwota|paid|amount paid|sale amount|deal value|turnover|"
    "suma|summa|celkem|cena|castka|osszeg|vegosszeg|toplam|tutar|summa|loppusumma|belop|belob|i alt|sum|valoare|сумма|итого|合計|"
    "金額|合計金額|总额|金额|합계|금액|المبلغ|הסכום|ποσο|tong|jumlah|wartosc|wartosc zamowienia|ordervarde|omsattning|omsaetning|omsetning"
)
_PRODUCT = "product|product name|item|article|sku|produkt|artikel|produit|producto|prodotto|what|ticket|tariff"
_QUANTITY = (
    "quantity|qty|count|units|pieces|hours|menge|anzahl|stuck|quantite|cantidad|quantita|aantal|quantidade|stunden"
)
_ACCOUNT = (
    "account|account name|account id|ad account|konto|kontoname|compte|cuenta|account pubblicitario|conta|rekening"
)
_PLATFORM = (
    "plattform|media platform|"
    "platform|network|channel partner|ad platform|publisher|supplier|vendor|plattform|plateforme|plataforma|piattaforma"
)


def _captured(position: str, words: str) -> dict[str, str]:
    names = {"source": "source|quelle|fuente|origine|bron|fonte", "medium": "medium|medio|support"}
    names |= {"campaign": _CAMPAIGN, "term": "term|keyword|suchbegriff", "content": "content|inhalt", "id": "utm id"}
    out = {}
    for name, phrases in names.items():
        said = [f"{word} {phrase}" for word in words.split("|") for phrase in phrases.split("|")]
        plain = [f"utm {name}", *phrases.split("|")] if position == "last" and name != "id" else []
        plain += (
            ["lead source", "lead origin", "source of lead", "herkunft"]
            if (position, name) == ("last", "source")
            else []
        )
        out[f"{position}_{name}"] = "|".join([*said, *plain])
    return out


WORDS: Mapping[str, Mapping[str, str]] = {
    "visits": {
        "visit_id": "visit|visit id|session|session id|session key|hit id|pageview id|besuch|besuchs id|sitzung|sitzungs id|visite|id visite|visita|bezoek|id sessione|id de session",
        "occurred_at": _TIME,
        "visitor_id": _VISITOR,
        "url": "url|address|landing page|landing page url|landing url|page|page url|page address|full url|entry page|entry url|landing|location|request|zielseite|seite|einstiegsseite|einstiegs url|adresse|page d entree|page de destination|page d arrivee|pagina|pagina de destino|pagina di destinazione|landingspagina|pagina de entrada",
        "referrer": "referrer|referer|referring page|referral|referring url|came from|previous page|verweis|verweisende seite|herkunftsseite|referent|page de provenance|referente|verwijzende pagina",
        "email": _MAIL,
        "click_id": _CLICK,
        "device": "device|device type|device category|gerat|geraet|geratetyp|appareil|dispositivo|apparaat",
        "kind": "hit type|event type|interaction",
        "utm_source": "source|utm source|traffic source|quelle|fuente|sorgente|bron",
        "utm_medium": "medium|utm medium|traffic medium|medio",
        "utm_campaign": f"utm campaign|{_CAMPAIGN}",
        "utm_term": "utm term|term|keyword",
        "utm_content": "utm content|content",
        "utm_id": "utm id",
    },
    "leads": {
        "lead_id": "lead|lead id|lead no|lead number|contact id|contact no|record id|enquiry|enquiry id|enquiry no|enquiry number|inquiry id|request id|anfrage|anfrage nr|anfragenummer|kontakt id|id du contact|id contacto|id contatto|leadnummer|case|case id|case no|ref|reference|reference no|id",
        "occurred_at": _TIME,
        "visitor_id": _VISITOR,
        "email": _MAIL,
        "phone": _PHONE,
        "click_id": _CLICK,
        "form": "form|form name|formular|formulaire|formulario|formulier|modulo",
        "name": "name|full name|contact|contact name|customer|customer name|company|kunde|kontakt|ansprechpartner|nom|nombre|nome|naam",
        "first_seen_at": "first seen|first visit|first seen at|first visit at|erster besuch|premiere visite|primera visita",
        **_captured("first", "first|original|first touch|erste|erster|premier|primer"),
        **_captured("last", "last|latest|last touch|letzte|letzter|dernier|ultimo|recent"),
        "code": "voucher|code|promo code|coupon|gutschein|bon|codigo|codice",
        "self_reported": "how did you hear|how did you hear about us|self reported|heard of us|wie haben sie von uns erfahren",
        "stage": "stage|lead stage|phase|etape|etapa|fase",
        "status": _STATUS,
        "owner": "owner|lead owner|contact owner|assigned to|responsible|besitzer|zustandig|proprietaire|propietario|eigenaar|sales rep",
        "updated_at": "updated|updated at|last modified|modified|last change|geandert|geandert am|modifie le|modificado|gewijzigd",
        "consent": "consent|opt in|einwilligung|consentement|consentimiento",
        "is_test": "test|is test|test record",
    },
    "conversions": {
        "conversion_id": "zamowienie|numer zamowienia|objednavka|cislo objednavky|rendeles|rendelesszam|siparis|siparis no|tilaus|tilausnumero|ordre|ordrenummer|comanda|nr comanda|заказ|номер заказа|注文番号|订单号|주문번호|رقم الطلب|מספר הזמנה|order|order id|order no|order number|order nr|order ref|order reference|transaction|transaction id|booking|booking no|booking id|booking number|booking ref|invoice no|receipt|receipt no|sale id|deal id|deal|bestellung|bestellnummer|bestell nr|auftrag|auftragsnummer|buchung|buchungsnummer|commande|numero de commande|n commande|no commande|pedido|numero de pedido|ordine|numero ordine|bestelnummer|ordernummer|encomenda|id",
        "occurred_at": _TIME,
        "goal": "goal|conversion|conversion name|conversion type|order type|type|ziel|objectif|objetivo|obiettivo|doel",
        "visitor_id": _VISITOR,
        "email": _MAIL,
        "phone": _PHONE,
        "lead_id": "lead|lead id|lead no|contact id|enquiry no|enquiry id",
        "click_id": _CLICK,
        "code": "voucher|voucher code|promo code|coupon|coupon code|discount code|gutschein|gutscheincode|code promo|cupon|codice sconto|kortingscode",
        "total": _TOTAL,
        "tax": _TAX,
        "shipping": "shipping|shipping cost|delivery|freight|postage|booking fee|fee|versand|versandkosten|livraison|frais de port|envio|gastos de envio|spedizione|verzending|verzendkosten|frete",
        "refunded": "refund|refunded|refund amount|refunded amount|returned|erstattet|erstattung|rembourse|remboursement|reembolso|reembolsado|rimborso|rimborsato|terugbetaald",
        "currency": _CURRENCY,
        "product": _PRODUCT,
        "status": _STATUS,
    },
    "spend": {
        "day": _TIME,
        "platform": _PLATFORM,
        "account": _ACCOUNT,
        "campaign_id": _CAMPAIGN_ID,
        "campaign": _CAMPAIGN,
        "ad_group": _GROUP,
        "ad": _AD,
        "keyword": "keyword|search term|suchbegriff|mot cle|palabra clave|parola chiave|zoekwoord|schlusselwort",
        "placement": "placement|site|publisher site|panel|position|platzierung|emplacement|ubicacion|posizionamento|plaatsing",
        "impressions": "visninger|exponeringar|weergaven|zobrazeni|megjelenitesek|goruntulenme|gosterim|nayttokerrat|afisari|показы|表示回数|インプレッション|展示次数|展示|노출수|노출|مرات الظهور|חשיפות|impressions|views|impr|shown|impressionen|einblendungen|affichages|vues|impresiones|impressioni|vertoningen|weergaven|impressoes|visningar|wyswietlenia|times shown",
        "clicks": "kliknuti|klikniecia|kattintasok|tiklama|tiklamalar|klikkaukset|clicuri|клики|クリック|クリック数|点击|点击次数|클릭|클릭수|النقرات|קליקים|κλικ|klick|clicks|klicks|clics|clic|klikken|kliks|cliques|klick|taps",
        "cost": _COST,
        "click_price": "cost per click|cpc|price per click|klickpreis|prix par clic",
        "currency": _CURRENCY,
        "claimed_conversions": "konverteringar|konverteringer|konwersje|konverze|donusumler|コンバージョン|conversions|results|konversionen|conversiones|conversioni|conversies|conversoes|purchases|orders|sales|ergebnisse|resultats|resultados",
        "claimed_value": "conversion value|conversions value|value of conversions|purchase value|sales value|revenue|konversionswert|wert der konversionen|valeur de conversion|valor de conversion|conversiewaarde|value",
    },
    "other_costs": {
        "from": "from|start|start date|begins|von|beginn|du|debut|desde|inicio|dal|vanaf",
        "to": "to|end|end date|until|ends|bis|ende|au|fin|hasta|al|tot",
        "campaign": _CAMPAIGN,
        "kind": "kind|type|description|cost type|what|art|kostenart|beschreibung|designation|tipo|soort|position",
        "cost": f"{_COST}|{_TOTAL}",
        "quantity": _QUANTITY,
        "price": "unit price|price|rate|hourly rate|stundensatz|einzelpreis|prix unitaire|precio|prezzo|tarief",
        "currency": _CURRENCY,
    },
    "refunds": {
        "refund_id": "refund|refund id|refund no|credit note|credit note no|return id|erstattung|erstattungsnummer|gutschrift|remboursement|reembolso|rimborso",
        "conversion_id": "order|order id|order no|order number|transaction id|booking no|booking id|bestellung|bestellnummer|commande|numero de commande|pedido|ordine|bestelnummer",
        "occurred_at": f"{_TIME}|refunded at|refund date|refunded on",
        "amount": f"{_TOTAL}|refund amount|refunded|erstattet",
        "currency": _CURRENCY,
    },
    "statuses": {
        "record_id": "record|record id|lead id|contact id|deal id|order id|enquiry no|datensatz",
        "occurred_at": f"{_TIME}|changed|changed at|geandert am",
        "status": f"{_STATUS}|new status|neuer status",
        "stage": "stage|new stage|phase|etape|etapa|fase",
        "owner": "owner|assigned to|besitzer|eigenaar",
        "pipeline": "pipeline",
        "value": "value|deal value|amount|wert|valeur|valor|valore",
    },
    "order_lines": {
        "conversion_id": "order|order id|order no|order number|transaction id|booking no|bestellung|bestellnummer|commande|pedido|ordine|bestelnummer",
        "line_number": "line|line no|line number|position|pos|row|zeile|ligne|linea|regel",
        "product": _PRODUCT,
        "quantity": _QUANTITY,
        "total": f"line total|{_TOTAL}",
        "tax": _TAX,
    },
    "deal_contacts": {
        "deal_id": "deal|deal id|opportunity|opportunity id|geschaft",
        "lead_id": "lead|lead id|contact id",
        "email": _MAIL,
        "role": "role|contact role|rolle|funktion",
    },
    "rates": {
        "day": _TIME,
        "base": "base|from currency|from|base currency|ausgangswahrung",
        "quote": "quote|to currency|to|target currency|zielwahrung",
        "rate": "rate|exchange rate|kurs|wechselkurs|taux|tipo de cambio|tasso|koers",
    },
    "invoices": {
        "platform": _PLATFORM,
        "account": _ACCOUNT,
        "month": f"month|billing month|billing period|invoice month|monat|abrechnungsmonat|mois|mes|mese|maand|{_TIME}",
        "amount": f"invoice amount|amount due|rechnungsbetrag|montant facture|{_TOTAL}",
        "currency": _CURRENCY,
    },
    "ads": {
        "platform": _PLATFORM,
        "account": _ACCOUNT,
        "campaign": _CAMPAIGN,
        "campaign_id": _CAMPAIGN_ID,
        "ad_group": _GROUP,
        "ad": _AD,
        "level": "level|ebene|niveau|nivel|livello",
        "pattern": "pattern|suffix|muster|vorlage",
        "address": "address|destination url|landing page|url|zielseite|ziel url|link",
        "state": _STATUS,
        "spend": _COST,
    },
}
"""Table -> column -> what it is called, phrases between bars."""

_NUMBERED = (
    "nr",
    "nummer",
    "number",
    "num",
    "no",
    "id",
    "nro",
    "numero",
    "numer",
    "cislo",
    "szam",
    "kennung",
    "key",
    "ref",
)
_ORDERED = ("bestell", "auftrag", "order", "buchung", "commande", "pedido", "zamow", "objednav", "rendel", "siparis", "tilaus", "ordre", "rechnung", "vorgang", "transa", "booking", "reserv", "beleg", "comanda", "encomenda", "kauf")  # fmt: skip
_ASKED = ("anfrage", "kontakt", "lead", "enquir", "inquir", "demande", "solicitud", "richiesta", "aanvraag", "forfrag")
_DATED = ("datum", "date", "dato", "zeit", "tag", "zeitpunkt", "fecha", "tijd", "tid", "pvm", "tarihi")
_SUMMED = ("summe", "betrag", "wert", "umsatz", "preis", "belopp", "belop", "bedrag", "totaal", "total", "importe", "kwota", "summa")  # fmt: skip
_SPENT = ("kosten", "ausgaben", "kostnad", "kostnader", "omkostninger", "spend", "costs", "cost", "koszt", "uitgaven")
PARTS: Mapping[str, Mapping[str, tuple[tuple[str, ...], tuple[str, ...]]]] = {
    "visits": {"visit_id": (("sitzung", "besuch", "session", "visit"), _NUMBERED), "occurred_at": ((), _DATED)},
    "leads": {"lead_id": (_ASKED, _NUMBERED), "occurred_at": ((), _DATED), "email": ((), ("mail", "mailadresse"))},
    "conversions": {
        "conversion_id": (_ORDERED, _NUMBERED),
        "occurred_at": ((), _DATED),
        "total": ((), _SUMMED),
        "email": ((), ("mail", "mailadresse")),
        "shipping": (("versand", "verzend", "frakt", "livr"), ()),
    },
    "spend": {
        "day": ((), _DATED),
        "cost": ((), _SPENT),
        "campaign": (
            ("kampagn", "campagn", "kampan", "campan"),
            ("name", "titel", "bezeichnung", "nome", "nom", "naam"),
        ),
        "clicks": (("klick", "clic", "klik"), ()),
        "impressions": (("impres", "einblend", "visning", "vertoning"), ()),
    },
    "refunds": {"conversion_id": (_ORDERED, _NUMBERED), "occurred_at": ((), _DATED), "amount": ((), _SUMMED)},
    "invoices": {"amount": ((), _SUMMED)},
    "order_lines": {"conversion_id": (_ORDERED, _NUMBERED), "total": ((), _SUMMED)},
}
"""Table -> column -> how a word of its name begins and how one ends, where a language makes one word of two."""

TABLE_WORDS: Mapping[str, str] = {
    "visits": "visits|sessions|hits|besuche|sitzungen|visites|visitas|web",
    "leads": "leads|contacts|enquiries|inquiries|anfragen|kontakte|requests",
    "conversions": "conversions|orders|sales|transactions|bookings|deals|bestellungen|verkaufe|commandes|pedidos|ordini",
    "spend": "spend|ads|ad report|campaigns|cost report|report|kampagnen|kosten|werbung|campagnes",
    "refunds": "refunds|returns|credit notes|erstattungen|remboursements",
    "order_lines": "lines|items|positions|positionen",
    "rates": "rates|exchange|kurse",
    "invoices": "invoices|billing|rechnungen|factures",
    "other_costs": "other costs|fees|production|extra costs",
    "statuses": "statuses|history|changes|verlauf",
    "ads": "ads|creatives|ad list",
    "deal_contacts": "deal contacts",
}
"""What files of a table are called."""
