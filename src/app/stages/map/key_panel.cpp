// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/key_panel.hpp"

#include <fmt/format.h>

#include <QFormLayout>
#include <QMimeData>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/stages/map/device_canvas.hpp"
#include "core/base/decimal.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/device_table.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int meaning_role = Qt::UserRole;
constexpr std::size_t most_found = 60;

QString sends_said(KeySends s) {
    switch (s) {
        case KeySends::press: return QObject::tr("its press only");
        case KeySends::state: return QObject::tr("a bit, as long as it is held");
        case KeySends::counts: return QObject::tr("counts");
        case KeySends::press_release: break;
    }
    return QObject::tr("press and release");
}

}  // namespace

QMimeData* MeaningList::mimeData(const QList<QListWidgetItem*>& items) const {
    auto* data = new QMimeData;
    if (!items.isEmpty())
        data->setData(QString::fromLatin1(meaning_mime),
                      items.front()->data(meaning_role).toString().toUtf8());
    return data;
}

QStringList MeaningList::mimeTypes() const {
    return {QString::fromLatin1(meaning_mime)};
}

KeyPanel::KeyPanel(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    make_facts();
    make_search();
    column->addWidget(facts_, 0);
    column->addWidget(search_sheet_, 1);
}

void KeyPanel::make_facts() {
    facts_ = new Sheet(tr("No key chosen"));
    says_ = secondary_label({});
    says_->setWordWrap(true);
    says_->setTextFormat(Qt::PlainText);
    says_->setAccessibleName(tr("What is open about this key"));
    facts_->body()->addWidget(says_);
    auto* form = new QFormLayout;
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(4);
    const auto field = [&](const QString& label, Field*& into, const QString& tip) {
        into = new Field;
        into->setAccessibleName(label);
        into->setToolTip(tip);
        form->addRow(label, into);
    };
    field(tr("Legend"), legend_, tr("As it is printed on the key"));
    legend_->commit = [this](const QString& text) -> std::optional<QString> {
        change(tr("legend"), [&](MapKey& k) { k.legend = text.trimmed().toStdString(); });
        return std::nullopt;
    };
    code_ = new FactRow(tr("Old code"), {});
    code_->commit = [this](const QString& value, const Evidence& evidence) -> std::optional<QString> {
        change(tr("old code"), [&](MapKey& k) {
            k.code.value = value.trimmed().toStdString();
            k.code.evidence = evidence;
        });
        return std::nullopt;
    };
    form->addRow(code_);
    field(tr("Release"), release_, tr("The code at the release, where it has one of its own"));
    release_->commit = [this](const QString& text) -> std::optional<QString> {
        change(tr("release code"), [&](MapKey& k) { k.release = text.trimmed().toStdString(); });
        return std::nullopt;
    };
    field(tr("Shifted"), shifted_,
          tr("What it sends with a modifier of the old side, and what that becomes: shift 0x5C text:&; code "
             "0x1F key:f1"));
    shifted_->commit = [this](const QString& text) -> std::optional<QString> {
        auto list = parse_shifted(text.toStdString());
        if (!list)
            return tr("Found %1, expected %2.").arg(to_q(list.error().found), to_q(list.error().expected));
        change(tr("shifted codes"), [&](MapKey& k) { k.shifted = std::move(*list); });
        return std::nullopt;
    };
    sends_ = new ChoiceBox(tr("What it sends"), tr("Whether the old side tells the release"));
    for (const auto s : all_of<KeySends>()) sends_->addItem(sends_said(s));
    connect(sends_, &QComboBox::activated, this, [this](int at) {
        change(tr("what a key sends"),
               [&](MapKey& k) { k.sends = all_of<KeySends>()[static_cast<std::size_t>(at)]; });
    });
    form->addRow(tr("Sends"), sends_);
    kind_ = new ChoiceBox(tr("Kind"), tr("What kind of control it is"));
    for (const auto k : all_of<ControlKind>()) kind_->addItem(to_q(word(k)));
    connect(kind_, &QComboBox::activated, this, [this](int at) {
        change(tr("kind of control"),
               [&](MapKey& k) { k.kind = all_of<ControlKind>()[static_cast<std::size_t>(at)]; });
    });
    form->addRow(tr("Kind"), kind_);
    field(tr("Place"), place_, tr("Left, top, width and height in usual key widths: 3 1 2 1"));
    place_->commit = [this](const QString& text) { return place(text); };
    field(tr("Becomes"), meaning_,
          tr("The meaning as a word: key:a, key:left-shift+2, text:|, media:volume-up, button:3, hat:up, "
             "axis:x+, pointer:left, bridge:layer, nothing"));
    meaning_->commit = [this](const QString& text) { return assign(text); };
    facts_->body()->addLayout(form);
    take_ = new QPushButton;
    take_->setProperty("compact", true);
    take_->setToolTip(tr("Gives the key what its legend says"));
    connect(take_, &QPushButton::clicked, this, [this] { static_cast<void>(assign(proposal_)); });
    facts_->body()->addWidget(take_, 0, Qt::AlignLeft);
}

void KeyPanel::make_search() {
    search_sheet_ = new Sheet(tr("What it could become"));
    search_ = new Field;
    search_->setPlaceholderText(tr("volume   ·   f1   ·   pad 7   ·   hat up   ·   |"));
    search_->setAccessibleName(tr("Search for a meaning"));
    search_->setToolTip(tr("Words of the meaning; Enter takes the first"));
    search_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        if (found_->count() == 0) return tr("Nothing is called so.");
        auto* item = found_->currentItem() != nullptr ? found_->currentItem() : found_->item(0);
        return assign(item->data(meaning_role).toString());
    };
    connect(search_, &QLineEdit::textEdited, this, &KeyPanel::fill_found);
    search_sheet_->body()->addWidget(search_);
    found_ = new MeaningList;
    found_->setAccessibleName(tr("Meanings found"));
    found_->setDragEnabled(true);
    found_->setToolTip(tr("Double-click, Enter, or drag one onto a key"));
    connect(found_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
        static_cast<void>(assign(item->data(meaning_role).toString()));
    });
    search_sheet_->body()->addWidget(found_, 1);
    fill_found({});
}

const MapKey* KeyPanel::key() const {
    return document_.dossier().map->find_key(id_);
}

void KeyPanel::begin_search() {
    search_->setFocus();
    search_->selectAll();
}

void KeyPanel::show_key(const std::string& id) {
    id_ = id;
    const auto* k = key();
    for (QWidget* w : std::initializer_list<QWidget*>{legend_, code_, release_, shifted_, sends_, kind_,
                                                      place_, meaning_, search_, found_})
        w->setEnabled(k != nullptr);
    const MapKey none;
    const auto& shown = k != nullptr ? *k : none;
    facts_->set_title(k == nullptr ? tr("No key chosen") : to_q(k->legend.empty() ? k->id : k->legend));
    legend_->show_value(to_q(shown.legend));
    code_->show_fact(to_q(shown.code.value), shown.code.evidence);
    release_->show_value(to_q(shown.release));
    shifted_->show_value(to_q(print_shifted(shown.shifted)));
    sends_->setCurrentIndex(static_cast<int>(shown.sends));
    kind_->setCurrentIndex(static_cast<int>(shown.kind));
    place_->show_value(
        k == nullptr ? QString() : to_q(fmt::format("{:g} {:g} {:g} {:g}", k->x, k->y, k->width, k->height)));
    meaning_->show_value(to_q(shown.meaning));
    QStringList says;
    proposal_.clear();
    const auto& analysis = document_.analysis().map;
    if (k != nullptr && analysis)
        for (const auto& g : analysis->coverage.gaps) {
            if (std::find(g.keys.begin(), g.keys.end(), id_) == g.keys.end()) continue;
            says << to_q(g.says);
            if (g.proposal && g.kind == GapKind::no_meaning) proposal_ = to_q(print_meaning(*g.proposal));
        }
    says_->setText(says.join(QLatin1Char(' ')));
    says_->setVisible(!says.isEmpty());
    if (search_->text().trimmed().isEmpty()) fill_found({});
    take_->setVisible(!proposal_.isEmpty());
    if (!proposal_.isEmpty()) {
        const auto m = parse_meaning(proposal_.toStdString());
        take_->setText(tr("Take: %1").arg(m ? to_q(say_meaning(*m)) : proposal_));
    }
}

/// What is wanted and nothing reaches, and that it may be nothing.
std::vector<Meaning> KeyPanel::unreached() const {
    std::vector<Meaning> out;
    const auto& map = *document_.dossier().map;
    std::vector<Profile> profiles;
    if (const auto& a = document_.analysis().map) profiles = a->coverage.profiles;
    for (const auto& wish : map.modern.wanted)
        for (const auto& m : wanted_meanings(wish, profiles)) {
            const auto word = print_meaning(m);
            const bool used = std::any_of(map.keys.begin(), map.keys.end(),
                                          [&](const auto& k) { return k.meaning == word; });
            if (!used && out.size() < most_found && m.kind != MeaningKind::text) out.push_back(m);
        }
    out.emplace_back();
    return out;
}

void KeyPanel::fill_found(const QString& typed) {
    found_->clear();
    for (const auto& m :
         typed.trimmed().isEmpty() ? unreached() : search_meanings(typed.toStdString(), most_found)) {
        auto* item = new QListWidgetItem(to_q(say_meaning(m)));
        item->setData(meaning_role, to_q(print_meaning(m)));
        item->setToolTip(to_q(print_meaning(m)).toHtmlEscaped());
        found_->addItem(item);
    }
}

bool KeyPanel::change(const QString& what, const std::function<void(MapKey&)>& how) {
    const auto* k = key();
    if (k == nullptr) return false;
    auto next = *k;
    how(next);
    if (next == *k) return true;
    document_.apply(what, put(document_.dossier(), std::move(next)));
    return true;
}

std::optional<QString> KeyPanel::assign(const QString& meaning) {
    const auto typed = meaning.startsWith(QStringLiteral("text:")) ? meaning : meaning.trimmed();
    if (!typed.isEmpty()) {
        const auto m = parse_meaning(typed.toStdString());
        if (!m) return tr("Found %1, expected %2.").arg(to_q(m.error().found), to_q(m.error().expected));
    }
    if (!change(tr("meaning of %1").arg(to_q(id_)), [&](MapKey& k) { k.meaning = typed.toStdString(); }))
        return tr("No key is chosen.");
    Q_EMIT assigned();
    return std::nullopt;
}

std::optional<QString> KeyPanel::place(const QString& text) {
    double figures[4] = {};
    const auto parts = text.simplified().split(QLatin1Char(' '));
    bool good = parts.size() == 4;
    for (int i = 0; good && i < 4; ++i) {
        const auto v = decimal_number(parts[i].toStdString(), '.');
        good = v && *v >= (i < 2 ? -1000 : 0.1) && *v <= (i < 2 ? 1000 : 100);
        if (good) figures[i] = *v;
    }
    if (!good) return tr("Four numbers in usual key widths: left, top, width, height, such as 3 1 2 1.");
    change(tr("place of a key"), [&](MapKey& k) {
        k.x = figures[0];
        k.y = figures[1];
        k.width = figures[2];
        k.height = figures[3];
    });
    return std::nullopt;
}

}  // namespace grayrelic::app
