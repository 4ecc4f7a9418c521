"""Names of columns that hold no sums: what one thing costs, averages, rates, budgets, limits; and parts of a sum.

Words of the trade and of dictionaries, folded, without accents and signs; none is taken from a certain program.
"""

from __future__ import annotations

import re

_UNIT_WORDS = (
    "per pro par por je each cpc cpm cpa cpl cpo cpv cpi ctr cvr roas roi acos average avg mean durchschnitt "
    "durchschn durchschnittlich durchschnittliche mittel mittelwert moyen moyenne promedio gemiddeld gemiddelde "
    "genomsnitt gennemsnit gjennomsnitt srednia sredni prumer ortalama keskiarvo media rate taux tasa tasso taxa "
    "quote budget budgets presupuesto orcamento budzet bid bids gebot enchere puja offerta lance bod limit limite "
    "limiet cap maximum max target ziel objectif objetivo share anteil percent percentage prozent pct ratio unit "
    "unitaire unitario einzel estimated forecast prognose planned plan"
)
_UNIT = frozenset(_UNIT_WORDS.split(" "))
_PRICE = frozenset(["price", "preis", "prix", "precio", "prezzo", "prijs", "pris", "cena", "preco", "hinta", "fiyat"])
_BEGINS = ("durchschnitt", "gemiddeld", "hochst", "einzel", "stuck", "mindest", "tages", "rest", "ziel", "genomsnitt")
_ENDS = ("preis", "prijs", "pris", "budget", "gebot", "quote", "rate", "limit", "satz", "anteil")
_PART_WORDS = (
    "tax vat gst mwst ust tva taxe iva btw moms imposto impuesto steuer port shipping delivery freight versand "
    "livraison envio spedizione verzending frete discount rabatt remise descuento sconto korting rabat voucher refund "
    "refunded erstattet erstattung rembourse reembolso rimborso fee fees gebuhr gebuhren frais commission provision "
    "provisie tip tips trinkgeld subtotal sub zwischensumme sous balance saldo credit cashback margin marge profit "
    "gewinn deposit anzahlung"
)
_PART = frozenset(_PART_WORDS.split(" "))
SUMS = (
    "grand total|total general|overall total|report total|sub total|sous total|sum total|genel toplam|ara toplam|i alt|"
    "suma total|totale generale|total geral|celkem|osszesen|toplam|yhteensa|razem|suma|soma|summa|gesamtsumme|"
    "zwischensumme|gesamt|insgesamt|summe|subtotal|subtotals|subtotale|subtotaal|totals|total|totaux|totale|totaal|"
    "totalt|somme|sum|delsumma|subtotaal|итого|всего|合計|総計|小計|小计|总计|合计|총계|합계|المجموع|الاجمالي|σύνολο|συνολο|"
    "jumlah|всього|разом|ukupno|skupaj|spolu|medzisoucet|mezisoucet|vahesumma|kokku|kopa|is viso|viso"
)
"""What rows of sums say, in the languages of exports."""


def is_unit(name: str, words: str) -> bool:
    """Whether a column's name says a price, an average, a rate, a budget or a limit, which are no sums.

    Parameters
    ----------
    name : as written
    words : the same as `guessing.plain_words` gives it
    """
    tokens = words.split()
    if "%" in name or re.search(r"\w\s?/\s?\w", name):
        return True
    # "Media cost" is of the trade, "coste medio" an average.
    said = [t for i, t in enumerate(tokens) if not (t == "media" and i == 0 and len(tokens) > 1)]
    if any(t in _UNIT for t in said) or (tokens[:1] == ["cost"] and tokens[1:2] == ["of"]):
        return True
    return any(len(t) > 6 and (t.startswith(_BEGINS) or t.endswith(_ENDS)) for t in said)


def is_price(words: str) -> bool:
    """Whether a name says the price of something, which of an order may be all of it."""
    return any(t in _PRICE for t in words.split())


def is_part(words: str) -> bool:
    """Whether a name says a part of a sum: tax, shipping, a discount."""
    return any(t in _PART for t in words.split())
