// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/reports_view.hpp"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QPainter>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/input/hex_text.hpp"
#include "core/input/map_table.hpp"
#include "core/input/typing.hpp"

namespace grayrelic::app {
namespace {

constexpr std::size_t most_rows_shown = 400;

Time usual_poll(const Document& d) {
    const auto poll = d.dossier().map->modern.poll.value;
    return poll > Time{} ? poll : Time::ms(8);
}

QString listing_of(const ReportDescriptor& d) {
    QString out;
    for (const auto& item : d.items)
        out += QStringLiteral("%1  %2 %3%4\n")
                   .arg(item.offset, 4)
                   .arg(to_q(print_hex(item.bytes)), -9)
                   .arg(QString(item.depth * 2, QLatin1Char(' ')), to_q(item.says));
    for (const auto& r : d.reports) {
        out += QObject::tr("\n%1 report%2, %3 bits\n")
                   .arg(to_q(word(r.kind)), r.id == 0 ? QString() : QStringLiteral(" %1").arg(r.id))
                   .arg(r.bits);
        for (const auto& f : r.fields) {
            const auto first =
                f.usages.empty() ? QObject::tr("no usage") : to_q(print_usage(f.usages.front()));
            const auto last = f.usages.size() > 1
                                  ? QObject::tr(" to %1").arg(to_q(print_usage(f.usages.back())))
                                  : QString();
            out += QObject::tr("  bit %1: %2 of %3 bits, %4 to %5: %6%7\n")
                       .arg(f.bit)
                       .arg(f.count)
                       .arg(f.size_bits)
                       .arg(f.logical_min)
                       .arg(f.logical_max)
                       .arg(first, last);
        }
    }
    for (const auto& p : d.problems) out += QObject::tr("\nwrong %1\n").arg(to_q(p));
    return out;
}

}  // namespace

HostStrip::HostStrip(QWidget* parent) : RowPlot(tr("What the host holds"), tr("Reports over time"), parent) {
    set_look({110, 22, 30, 4, 4, true});
    setMinimumHeight(90);
}

QString HostStrip::empty_text() const {
    return tr("Nothing is held yet: choose a key or type a text.");
}

void HostStrip::show_view(const HostView& view, Time end) {
    rows_.clear();
    std::map<std::string, std::size_t> at;
    const auto row = [&](const std::string& name) -> Row& {
        const auto [it, fresh] = at.emplace(name, rows_.size());
        if (fresh) rows_.push_back({to_q(name), {}});
        return rows_[it->second];
    };
    for (const auto& e : view.events) {
        if (e.kind == HostEventKind::press) row(print_usage(e.usage)).held.push_back({e.at, end, {}, true});
        if (e.kind == HostEventKind::release) {
            auto& held = row(print_usage(e.usage)).held;
            if (!held.empty()) {
                held.back().to = e.at;
                held.back().open = false;
            }
        }
        if (e.kind == HostEventKind::value)
            row(print_usage(e.usage)).held.push_back({e.at, e.at, QString::number(e.value), false});
        if (e.kind == HostEventKind::typed)
            row(tr("typed").toStdString())
                .held.push_back({e.at, e.at, to_q(e.says == "\n" ? "↵" : e.says), false});
        if (e.kind == HostEventKind::trouble)
            row(tr("trouble").toStdString()).held.push_back({e.at, e.at, QStringLiteral("!"), false});
    }
    set_whole({Time{}, std::max(end, Time::ms(1))}, Time::us(100));
    set_window(whole());
    rows_changed();
    update();
}

RowPlot::RowName HostStrip::row_name(int row) const {
    return {rows_[static_cast<std::size_t>(row)].name, theme().slate};
}

void HostStrip::paint_row(QPainter& p, int row, const QRectF& lane) {
    for (const auto& h : rows_[static_cast<std::size_t>(row)].held) {
        const double from = x_of(h.from), to = std::max(from + 2, x_of(h.to));
        if (!h.text.isEmpty()) {
            p.setPen(theme().ink);
            p.setFont(figure_font(11));
            p.drawText(QRectF(from, lane.top(), 60, lane.height()), Qt::AlignLeft | Qt::AlignVCenter, h.text);
            continue;
        }
        p.fillRect(QRectF(from, lane.top(), to - from, lane.height()),
                   h.open ? theme().oxide : theme().slate);
    }
}

ReportsView::ReportsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    make_left();
    make_right();
    row->addWidget(descriptor_, 3);
    auto* column = new QVBoxLayout;
    column->setSpacing(8);
    column->addWidget(strip_sheet_, 3);
    column->addWidget(host_, 2);
    row->addLayout(column, 5);
}

void ReportsView::make_left() {
    descriptor_ = new Sheet(tr("What the bridge says it is"));
    profile_ = new ChoiceBox(tr("Profile"),
                             tr("One of the dossier's profiles, or a descriptor that was dropped here"));
    connect(profile_, &QComboBox::activated, this, [this] {
        fill_listing();
        make_reports();
    });
    copy_ = new QPushButton(tr("Copy bytes"));
    copy_->setProperty("compact", true);
    copy_->setToolTip(tr("The descriptor in hexadecimal"));
    connect(copy_, &QPushButton::clicked, this,
            [this] { QApplication::clipboard()->setText(copy_->property("bytes").toString()); });
    auto* tools = new QHBoxLayout;
    tools->setSpacing(6);
    tools->addWidget(profile_, 1);
    tools->addWidget(copy_);
    descriptor_->body()->addLayout(tools);
    listing_ = new QPlainTextEdit;
    listing_->setReadOnly(true);
    listing_->setFont(figure_font(12));
    listing_->setLineWrapMode(QPlainTextEdit::NoWrap);
    listing_->setTabChangesFocus(true);
    listing_->setAccessibleName(tr("The descriptor in words"));
    descriptor_->body()->addWidget(listing_, 1);
}

void ReportsView::make_right() {
    strip_sheet_ = new Sheet(tr("Reports"));
    source_ =
        new ChoiceBox(tr("Reports of"), tr("A key of the map, a text, or a dump that was dropped here"));
    connect(source_, &QComboBox::activated, this, [this] { make_reports(); });
    strip_sheet_->add_to_title(source_);
    text_ = new Field;
    text_->setPlaceholderText(tr("A text to be typed: Aa|"));
    text_->setAccessibleName(tr("A text to be typed"));
    text_->commit = [this](const QString& text) -> std::optional<QString> {
        typed_ = text;
        source_->setCurrentIndex(std::max(0, source_->findData(QStringLiteral("text"))));
        make_reports();
        return std::nullopt;
    };
    strip_sheet_->body()->addWidget(text_);
    reports_ = new FactTable;
    reports_->set_columns(
        {{tr("At"), 84, true}, {tr("Report"), 226, true}, {tr("The host understands"), 110}}, tr("Reports"));
    strip_sheet_->body()->addWidget(reports_, 1);
    host_ = new Sheet(tr("What a host understands"));
    caps_ = new QPushButton(tr("Caps lock on"));
    caps_->setProperty("compact", true);
    caps_->setCheckable(true);
    caps_->setToolTip(tr("The host's caps lock is on when the reports begin"));
    connect(caps_, &QPushButton::toggled, this, [this] { show_reports(); });
    host_->add_to_title(caps_);
    strip_ = new HostStrip;
    host_->body()->addWidget(strip_, 1);
}

void ReportsView::refresh() {
    fill_profiles();
    fill_listing();
    make_reports();
}

void ReportsView::fill_profiles() {
    const QSignalBlocker block(profile_), block_source(source_);
    const auto was = profile_->currentData().toString(), was_source = source_->currentData().toString();
    profile_->clear();
    for (const auto& p : document_.dossier().map->modern.profiles) profile_->addItem(to_q(p), to_q(p));
    if (profile_->count() == 0) profile_->addItem(tr("keyboard, as an example"), QStringLiteral("keyboard"));
    if (!own_descriptor_.empty()) profile_->addItem(own_name_, QStringLiteral("file"));
    profile_->setCurrentIndex(std::max(0, profile_->findData(was)));
    source_->clear();
    source_->addItem(tr("a text"), QStringLiteral("text"));
    for (const auto& k : document_.dossier().map->keys)
        if (!k.meaning.empty())
            source_->addItem(to_q(k.legend.empty() ? k.id : k.legend), QStringLiteral("key ") + to_q(k.id));
    if (!dump_.empty()) source_->addItem(dump_name_, QStringLiteral("dump"));
    const int at = source_->findData(was_source);
    source_->setCurrentIndex(at >= 0 ? at : typed_.isEmpty() && source_->count() > 1 ? 1 : 0);
}

void ReportsView::fill_listing() {
    const bool own = profile_->currentData().toString() == QStringLiteral("file");
    const auto p = parse_profile(profile_->currentData().toString().toStdString());
    const auto bytes = own ? own_descriptor_ : p ? descriptor_of(*p) : std::vector<std::uint8_t>{};
    const auto d = read_descriptor(bytes);
    listing_->setPlainText(bytes.empty() ? tr("No descriptor.") : listing_of(d));
    copy_->setProperty("bytes", to_q(print_hex(bytes)));
    descriptor_->set_about(d.problems.empty()
                               ? tr("%1 bytes, nothing wrong with them").arg(bytes.size())
                               : tr("%1 bytes, %2")
                                     .arg(bytes.size())
                                     .arg(to_q(plural(std::ssize(d.problems), "problem", "problems"))));
}

void ReportsView::make_reports() {
    made_.clear();
    unreachable_.clear();
    const auto poll = usual_poll(document_);
    const auto& map = *document_.dossier().map;
    const auto* layout = document_.data().layouts.find(map.modern.layout);
    const auto what = source_->currentData().toString();
    const auto add = [&](const std::vector<std::vector<std::uint8_t>>& reports) {
        for (const auto& r : reports) made_.push_back({poll * std::ssize(made_), r});
    };
    if (what == QStringLiteral("dump")) {
        made_ = dump_;
    } else if (what == QStringLiteral("text")) {
        const auto* host = layout != nullptr ? layout : document_.data().layouts.find("us");
        if (host != nullptr && !typed_.isEmpty()) {
            const auto typed =
                type_text(typed_.toStdString().substr(0, 4096), *host, false, caps_->isChecked());
            add(typed.reports);
            for (const auto& c : typed.unreachable) unreachable_ << to_q(c);
        }
    } else if (const auto* key = map.find_key(what.mid(4).toStdString())) {
        const auto table = map_table(map, {}, layout);
        for (const auto& v : table.vectors)
            if (table.entries[v.entry].key == key->id && table.entries[v.entry].with.empty()) {
                add(v.press);
                // Held for three polls, to be seen.
                for (const auto& r : v.release)
                    made_.push_back({made_.empty() ? Time{} : made_.back().at + poll * 3, r});
                const int at = profile_->findData(to_q(v.profile));
                if (at >= 0 && at != profile_->currentIndex()) {
                    profile_->setCurrentIndex(at);
                    fill_listing();
                }
            }
    }
    show_reports();
}

void ReportsView::show_reports() {
    const bool own = profile_->currentData().toString() == QStringLiteral("file");
    const auto p = parse_profile(profile_->currentData().toString().toStdString());
    const auto d = read_descriptor(own ? own_descriptor_ : descriptor_of(p.value_or(Profile{})));
    const auto* layout = document_.data().layouts.find(document_.dossier().map->modern.layout);
    if (layout == nullptr) layout = document_.data().layouts.find("us");
    const auto view = host_view(d, made_, {layout, caps_->isChecked()});
    std::multimap<Time, QString> says;
    for (const auto& e : view.events)
        says.emplace(e.at, e.kind == HostEventKind::press     ? tr("%1 down").arg(to_q(e.says))
                           : e.kind == HostEventKind::release ? tr("%1 up").arg(to_q(e.says))
                           : e.kind == HostEventKind::typed   ? tr("types %1").arg(to_q(e.says))
                                                              : to_q(e.says));
    std::vector<TableRow> rows;
    for (const auto& r : made_) {
        if (rows.size() >= most_rows_shown) break;
        QStringList here;
        for (auto [it, end] = says.equal_range(r.at); it != end; ++it) here << it->second;
        rows.push_back({to_q(print(r.at)), to_q(print_hex(r.bytes)), here.join(QStringLiteral(", "))});
    }
    reports_->set_rows(std::move(rows));
    auto about = made_.size() > most_rows_shown
                     ? tr("the first %1 of %2 reports").arg(most_rows_shown).arg(made_.size())
                     : to_q(plural(std::ssize(made_), "report", "reports"));
    if (!unreachable_.isEmpty())
        about += tr(" · the layout has no way to type %1").arg(unreachable_.join(QLatin1Char(' ')));
    if (document_.dossier().map->modern.poll.value <= Time{}) about += tr(" · 8 ms apart, assumed");
    strip_sheet_->set_about(about);
    strip_->show_view(view, made_.empty() ? Time{} : made_.back().at + usual_poll(document_));
    QStringList host;
    if (!view.text.empty()) host << tr("types: %1").arg(to_q(view.text).left(200));
    for (const auto& u : view.stuck)
        host << tr("%1 stays down: nothing releases it").arg(to_q(print_usage(u)));
    if (view.rollovers > 0) host << tr("%1 reports of too many keys").arg(view.rollovers);
    if (view.together > 0) host << tr("keys that go down in one report have no order");
    if (view.troubles > view.rollovers)
        host << to_q(plural(static_cast<long long>(view.troubles - view.rollovers),
                            "report that does not fit", "reports that do not fit"));
    host_->set_about(host.isEmpty() ? tr("everything that goes down is let go again")
                                    : host.join(QStringLiteral(" · ")));
}

QString ReportsView::take_file(const std::string& content, const QString& name) {
    // A descriptor begins with a usage page and has reports; anything else is a dump of reports.
    auto bytes = read_bytes(content, name.toStdString(), 1U << 20U);
    if (!bytes) return to_q(bytes.error().message());
    const auto d = read_descriptor(*bytes);
    const bool descriptor =
        !d.reports.empty() && d.problems.size() < 4 && (d.items.front().bytes.front() & 0xFCU) == 0x04U;
    if (descriptor) {
        own_descriptor_ = *bytes;
        own_name_ = name;
        fill_profiles();
        profile_->setCurrentIndex(profile_->findData(QStringLiteral("file")));
        fill_listing();
        show_reports();
        return tr("%1 read as a descriptor.").arg(name);
    }
    auto dump = read_report_dump(content, name.toStdString(), usual_poll(document_));
    if (!dump) return to_q(dump.error().message());
    dump_ = std::move(*dump);
    dump_name_ = name;
    fill_profiles();
    source_->setCurrentIndex(source_->findData(QStringLiteral("dump")));
    make_reports();
    return tr("%1 read as %2 reports.").arg(name).arg(dump_.size());
}

}  // namespace grayrelic::app
