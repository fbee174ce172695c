// SPDX-License-Identifier: GPL-3.0-or-later
// What Port takes in: a pin typed on the drawing, tables from files and the clipboard, photos.
#include <QFileInfo>

#include "app/paint/marks.hpp"
#include "app/stages/port/port_page.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/port/pin_compare.hpp"
#include "core/port/pin_entry.hpp"
#include "core/port/pin_table.hpp"
#include "render/picture.hpp"

namespace grayrelic::app {

std::optional<QString> PortPage::enter_pin(const QString& number, const QString& line) {
    const auto* p = port();
    if (p == nullptr || number.isEmpty()) return std::nullopt;
    const auto* old = p->find_pin(number.toStdString());
    Pin pin = old == nullptr ? Pin{} : *old;
    pin.number = number.toStdString();
    const auto entered = pin_with_entry(pin, line.toStdString(), editor_->new_evidence());
    if (!entered)
        return tr("Found %1, expected %2.").arg(to_q(entered.error().found), to_q(entered.error().expected));
    if (old == nullptr || !(*entered == *old))
        document_.apply(tr("pin %1").arg(number), put_pin(document_.dossier(), p->id, *entered));
    return std::nullopt;
}

void PortPage::load_table(bool as_source) {
    const auto path = ask_open(tr("Read a pin table"), dialog_filter(table_files()));
    if (path.isEmpty()) return;
    const auto text = disk().read(path.toStdString(), most_pin_table_bytes);
    if (!text) {
        tell(to_q(text.error().message()));
        return;
    }
    const auto name = QFileInfo(path).fileName();
    const auto* p = port();
    if (p == nullptr) return;
    take_table(*text, name, as_source);
}

void PortPage::take_table(const std::string& text, const QString& name, bool as_source) {
    const auto* p = port();
    if (p == nullptr) return;
    const auto connector = document_.data().connectors.find(p->connector);
    PinTableOptions options;
    if (connector) options.connector = &*connector;
    options.numbering = p->numbering;
    options.evidence.kind = EvidenceKind::documented;
    options.evidence.source = name.toStdString();
    const auto table = read_pin_table(text, name.toStdString(), options);
    if (!table) {
        tell(to_q(table.error().message()));
        return;
    }
    const auto left_out = [&] {
        QStringList out;
        for (const auto& c : table->left_out) out << to_q(c);
        return out.isEmpty() ? QString() : tr(" Left out: %1.").arg(out.join(QStringLiteral(", ")));
    }();
    const auto c = compare_tables(p->pins, table->pins, options.connector, p->numbering);
    if (!as_source && c.contradict == 0) {
        change_port(tr("pin table from %1").arg(name), [&](Port& changed) {
            PinSource source{"table", name.toStdString(), "", table->pins, ""};
            for (const auto& pin : table->pins) changed = accept_pin(changed, source, pin.number);
        });
        tell(tr("Read %1 from %2.%3")
                 .arg(to_q(plural(static_cast<long long>(table->pins.size()), "pin", "pins")), name,
                      left_out));
        return;
    }
    const auto id = free_source_id(*p, name.toStdString());
    change_port(tr("source %1").arg(name), [&](Port& changed) {
        changed.sources.push_back({id, name.toStdString(), "", table->pins, ""});
    });
    show_view(QStringLiteral("sources"));
    sources_->show_port(port_);
    sources_->show_source(to_q(id));
    tell(as_source ? left_out.trimmed()
                   : tr("%1 contradicts the port, so it is kept as another source.%2").arg(name, left_out));
}

/// A table that is a pin table of the port that is shown.
Claim PortPage::claim(const QFileInfo& file) const {
    const auto* p = port();
    if (p == nullptr || !table_files().endings.contains(file.suffix().toLower())) return Claim::none;
    const auto text = disk().read(file.absoluteFilePath().toStdString(), most_pin_table_bytes);
    return text && read_pin_table(*text, {}, {}) ? Claim::by_content : Claim::none;
}

void PortPage::take(const QString& path) {
    const auto text = disk().read(path.toStdString(), most_pin_table_bytes);
    if (!text) return tell(to_q(text.error().message()));
    take_table(*text, QFileInfo(path).fileName(), false);
}

bool PortPage::write_table_to(const QString& path) {
    if (port() == nullptr) return false;
    const auto done = write_atomically(disk(), path.toStdString(), write_pin_table(port()->pins));
    tell(done ? tr("Written to %1.").arg(path) : to_q(done.error().message()));
    return done.has_value();
}

void PortPage::add_photo(const QString& path) {
    if (const auto picture = render::read_picture(path.toStdString()); !picture) {
        tell(to_q(picture.error().message()));
        return;
    }
    Photo photo;
    photo.outside = QFileInfo(path).absoluteFilePath().toStdString();
    photo.title = QFileInfo(path).completeBaseName().toStdString();
    change_port(tr("add a photo"), [&](Port& p) { p.photos.push_back(photo); });
}

}  // namespace grayrelic::app
