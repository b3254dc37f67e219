"""Invoices as UBL 2.1 (OASIS Universal Business Language, Invoice-2): the open document that accounting programs read."""

from __future__ import annotations

from decimal import Decimal
from xml.etree.ElementTree import Element, SubElement, register_namespace, tostring

from ..core.common.currencies import decimals_of
from ..core.cost.invoices import Invoice, InvoiceLine, Totals, line_sum
from .xml_text import xml_text

MEDIA = "application/xml"
_INVOICE = "urn:oasis:names:specification:ubl:schema:xsd:Invoice-2"
_CAC = "urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
_CBC = "urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"
COMMERCIAL = "380"
"""A commercial invoice: UN/CEFACT code list 1001."""
HOUR, EACH = "HUR", "C62"
"""Units of a quantity: UN/ECE Recommendation 20."""
STANDARD, ZERO = "S", "Z"
"""Categories of tax: UN/CEFACT code list 5305."""

for prefix, uri in (("", _INVOICE), ("cac", _CAC), ("cbc", _CBC)):
    register_namespace(prefix, uri)


def write_ubl(invoice: Invoice, totals: Totals, supplier: str) -> bytes:
    """A frozen sheet as an invoice document.

    Args:
        supplier: the name of the organisation that charges.
    """
    root = Element(f"{{{_INVOICE}}}Invoice")
    _text(root, "UBLVersionID", "2.1")
    _text(root, "ID", invoice.number or invoice.id)
    if invoice.issued:
        _text(root, "IssueDate", invoice.issued.isoformat())
    if invoice.due:
        _text(root, "DueDate", invoice.due.isoformat())
    _text(root, "InvoiceTypeCode", COMMERCIAL)
    if invoice.note:
        _text(root, "Note", invoice.note)
    _text(root, "DocumentCurrencyCode", invoice.currency)
    period = _part(root, "InvoicePeriod")
    _text(period, "StartDate", invoice.first.isoformat())
    _text(period, "EndDate", invoice.last.isoformat())
    _party(root, "AccountingSupplierParty", supplier)
    _party(root, "AccountingCustomerParty", invoice.client)
    _tax(root, invoice, totals)
    sums = _part(root, "LegalMonetaryTotal")
    for name, amount in (("LineExtensionAmount", totals.net), ("TaxExclusiveAmount", totals.net),
                         ("TaxInclusiveAmount", totals.payable), ("PayableAmount", totals.payable)):  # fmt: skip
        _amount(sums, name, amount, invoice.currency)
    for number, line in enumerate(invoice.lines, 1):
        _line(root, number, line, invoice)
    return bytes(tostring(root, encoding="utf-8", xml_declaration=True))


def _part(parent: Element, name: str) -> Element:
    return SubElement(parent, f"{{{_CAC}}}{name}")


def _text(parent: Element, name: str, text: str) -> Element:
    found = SubElement(parent, f"{{{_CBC}}}{name}")
    found.text = xml_text(text)
    return found


def _amount(parent: Element, name: str, amount: Decimal, currency: str) -> None:
    _text(parent, name, f"{amount:f}").set("currencyID", currency)


def _party(root: Element, role: str, name: str) -> None:
    party = _part(_part(root, role), "Party")
    _text(_part(party, "PartyName"), "Name", name)
    _text(_part(party, "PartyLegalEntity"), "RegistrationName", name)


def _tax(root: Element, invoice: Invoice, totals: Totals) -> None:
    whole = _part(root, "TaxTotal")
    _amount(whole, "TaxAmount", totals.tax, invoice.currency)
    part = _part(whole, "TaxSubtotal")
    _amount(part, "TaxableAmount", totals.net, invoice.currency)
    _amount(part, "TaxAmount", totals.tax, invoice.currency)
    _category(part, "TaxCategory", invoice.tax)


def _category(parent: Element, name: str, percent: Decimal) -> None:
    category = _part(parent, name)
    _text(category, "ID", STANDARD if percent else ZERO)
    _text(category, "Percent", f"{percent:f}")
    _text(_part(category, "TaxScheme"), "ID", "VAT")


def _line(root: Element, number: int, line: InvoiceLine, invoice: Invoice) -> None:
    decimals = decimals_of(invoice.currency)
    found = _part(root, "InvoiceLine")
    _text(found, "ID", str(number))
    hours = line.minutes is not None and line.amount is None
    quantity = Decimal(line.minutes or 0) / 60 if hours else Decimal(1)
    _text(found, "InvoicedQuantity", f"{quantity.quantize(Decimal('0.0001')).normalize():f}").set(
        "unitCode", HOUR if hours else EACH
    )
    _amount(found, "LineExtensionAmount", line_sum(line, decimals), invoice.currency)
    item = _part(found, "Item")
    _text(item, "Name", line.text)
    _category(item, "ClassifiedTaxCategory", invoice.tax)
    price = _part(found, "Price")
    _amount(price, "PriceAmount", (line.rate if hours else line.amount) or Decimal(0), invoice.currency)
