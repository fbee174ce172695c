// SPDX-License-Identifier: GPL-3.0-or-later
// What a person enters of fits and zones.
#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/stages/board/fit_view.hpp"
#include "core/dossier/dimension_text.hpp"
#include "core/dossier/edits.hpp"
#include "core/fit/fit_text.hpp"

namespace grayrelic::app {

void FitView::add_fit() {
    if (board() == nullptr && need_board) id_ = need_board();
    const auto* f = board();
    if (f == nullptr) return;
    std::vector<std::string> taken;
    for (const auto& c : f->fits) taken.push_back(c.id);
    FitCase c;
    c.id = free_id_among(taken, "fit");
    c.name = tr("Below the lid").toStdString();
    fit_ = c.id;
    document_.apply(tr("another fit"), edit<Fabrication>(document_.dossier(), id_,
                                                         [&](Fabrication& into) { into.fits.push_back(c); }));
}

std::optional<QString> FitView::add_line(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    if (text.startsWith(QStringLiteral("zone "))) return add_zone(text);
    if (chosen() == nullptr) add_fit();
    if (chosen() == nullptr) return tr("there is no dossier open");
    auto d = document_.dossier();
    FitItem item;
    auto entry = parse_fit_line(text.toStdString());
    // The name of a dimension that is there already needs no figure.
    const Dimension* known = nullptr;
    const auto name = text.mid(1).trimmed().toStdString();
    if (auto place = parse_place_line(text.toStdString())) {
        change_fit(tr("a line of a fit"), [&](FitCase& c) { c.items.push_back(*place); });
        entry_->show_value({});
        return std::nullopt;
    }
    for (const auto& x : *d.dimensions)
        if (x.name == name || x.id == name) known = &x;
    if (known != nullptr && (text.startsWith(QLatin1Char('+')) || text.startsWith(QLatin1Char('-')) ||
                             text.startsWith(QChar(0x2212)))) {
        item.role = text.startsWith(QLatin1Char('+')) ? FitRole::gives : FitRole::takes;
        item.dimension = known->id;
    } else if (entry) {
        for (const auto& x : *d.dimensions)
            if (x.name == entry->dimension.name) entry->dimension.id = x.id;
        if (entry->dimension.id.empty()) {
            entry->dimension.id = free_id<Dimension>(d, entry->dimension.name);
            entry->dimension.decides = chosen()->name;
        } else {
            return tr("%1 is a dimension already: change its figure in the table, or type only its name")
                .arg(to_q(entry->dimension.name));
        }
        item.role = entry->role;
        item.dimension = entry->dimension.id;
        d = put(d, entry->dimension);
    } else {
        return to_q(entry.error().message());
    }
    document_.apply(tr("a line of a fit"), edit<Fabrication>(d, id_, [&](Fabrication& f) {
                        for (auto& c : f.fits)
                            if (c.id == fit_) c.items.push_back(item);
                    }));
    entry_->show_value({});
    return std::nullopt;
}

std::optional<QString> FitView::add_zone(const QString& text) {
    const auto zone = parse_zone(text.toStdString());
    if (!zone) return to_q(zone.error().message());
    if (board() == nullptr && need_board) id_ = need_board();
    if (board() == nullptr) return tr("there is no dossier open");
    document_.apply(tr("room over the board"),
                    edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        std::erase_if(f.zones, [&](const FitZone& z) { return z.name == zone->name; });
                        f.zones.push_back(*zone);
                    }));
    entry_->show_value({});
    return std::nullopt;
}

void FitView::remove_chosen() {
    const auto key = fits_->chosen() < 0 ? QString() : fits_->key(fits_->chosen()).toString();
    if (key.startsWith(QStringLiteral("case:"))) {
        const auto id = key.mid(5).toStdString();
        document_.apply(tr("remove an outline"),
                        edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                            std::erase_if(f.outlines, [&](const FitOutline& o) { return o.id == id; });
                        }));
        return;
    }
    const auto zone = key.startsWith(QStringLiteral("zone:"))
                          ? key.mid(5).section(QLatin1Char('/'), 0, 0).toStdString()
                          : std::string();
    if (key.isEmpty()) return;
    document_.apply(tr("remove a fit"), edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        if (zone.empty())
                            std::erase_if(f.fits, [&](const FitCase& c) { return c.id == fit_; });
                        else
                            std::erase_if(f.zones, [&](const FitZone& z) { return z.name == zone; });
                    }));
}

void FitView::remove_line() {
    const int at = lines_->chosen();
    if (at < 0) return;
    const auto n = static_cast<std::ptrdiff_t>(lines_->key(at).toInt());
    change_fit(tr("remove a line of a fit"), [&](FitCase& c) {
        if (n < static_cast<std::ptrdiff_t>(c.items.size())) c.items.erase(c.items.begin() + n);
    });
}

void FitView::change_line(int row, int column, const QString& text) {
    const auto* c = chosen();
    const auto n = static_cast<std::size_t>(lines_->key(row).toInt());
    if (c == nullptr || n >= c->items.size()) return;
    const auto item = c->items[n];
    if (!item.place.empty()) return fill_lines();  // the files say it
    const auto change = [&](const std::function<void(Fact<std::optional<double>>&)>& how) {
        if (item.dimension.empty()) {
            change_fit(tr("a figure of a fit"), [&](FitCase& f) { how(f.items[n].mm); });
            return;
        }
        document_.apply(tr("a dimension"), edit<Dimension>(document_.dossier(), item.dimension,
                                                           [&](Dimension& d) { how(d.mm); }));
    };
    if (column == 4) {
        const auto kind = named<EvidenceKind>(text.trimmed().section(QLatin1Char(' '), 0, 0).toStdString());
        const auto source = text.trimmed().section(QLatin1Char(' '), 1).toStdString();
        if (!kind) return fill_lines();
        return change([&](Fact<std::optional<double>>& f) {
            f.evidence.kind = *kind;
            if (!source.empty()) f.evidence.source = source;
        });
    }
    auto plain = text.trimmed();
    if (plain.startsWith(QChar(0xB1))) plain = plain.mid(1);
    const auto mm = plain.isEmpty() ? Result<double>(0.0) : parse_mm(plain.toStdString());
    if (!mm) return fill_lines();
    if (column == 2)
        return change([&](Fact<std::optional<double>>& f) {
            f.value = plain.isEmpty() ? std::nullopt : std::optional(*mm);
        });
    change([&](Fact<std::optional<double>>& f) { f.uncertainty = *mm; });
}

void FitView::change_fit(const QString& what, const std::function<void(FitCase&)>& how) {
    document_.apply(what, edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        for (auto& c : f.fits)
                            if (c.id == fit_) how(c);
                    }));
}

}  // namespace grayrelic::app
