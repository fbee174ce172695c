// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/hunt_view.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/text.hpp"
#include "core/decode/decoder.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/hunt_captures.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

BitRow::BitRow(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(96);
    setAccessibleName(tr("The bits of a word and who moves them"));
}

void BitRow::show_bits(const HuntResult& result, const std::vector<std::string>& names) {
    result_ = result;
    names_ = names;
    update();
}

void BitRow::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto n = result_.bits.size();
    if (n == 0) return;
    const double each = std::min(64.0, static_cast<double>(width() - 2) / static_cast<double>(n));
    for (std::size_t i = 0; i < n; ++i) {
        const auto& b = result_.bits[i];
        const QRectF box(1 + each * static_cast<double>(i), 16, each - 2, 46);
        const bool found = !b.moved_by.empty();
        p.setPen(theme().hairline);
        p.setBrush(found ? theme().selection : theme().sheet);
        p.drawRect(box);
        p.setFont(figure_font(10, false));
        p.setPen(theme().ink2);
        p.drawText(QRectF(box.left(), 0, box.width(), 14), Qt::AlignCenter, QString::number(i));
        p.setFont(figure_font(13, true));
        p.setPen(b.idle == BitState::moves ? theme().ink2 : theme().ink);
        p.drawText(QRectF(box.left(), box.top(), box.width(), 24), Qt::AlignCenter,
                   b.idle == BitState::moves  ? QStringLiteral("~")
                   : b.idle == BitState::high ? QStringLiteral("1")
                                              : QStringLiteral("0"));
        p.setFont(text_font(10));
        p.setPen(found ? (b.moved_by.size() > 1 ? theme().brass : theme().verdigris) : theme().ink2);
        const auto name = found ? (b.moved_by.size() > 1 ? tr("shared") : to_q(b.moved_by.front()))
                          : i < names_.size() ? to_q(names_[i])
                                              : QString();
        p.drawText(QRectF(box.left() + 1, box.top() + 24, box.width() - 2, 18), Qt::AlignCenter,
                   p.fontMetrics().elidedText(name, Qt::ElideRight, static_cast<int>(box.width() - 2)));
        if (b.active_low) {
            p.drawText(QRectF(box.left(), box.bottom() + 2, box.width(), 14), Qt::AlignCenter,
                       each >= 28 ? tr("low") : QStringLiteral("l"));
        }
    }
}

HuntView::HuntView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    auto* takes_sheet = new Sheet(tr("One recording at rest, one of each press"));
    takes_sheet->set_about(tr("Say what was pressed while each was recorded. “rest” is the one to compare "
                              "with; an empty cell leaves it out. In one long recording, mark what was "
                              "pressed between two cursors with M in the waves; “-” takes a mark away."),
                           true);
    takes_ = new FactTable;
    takes_->set_columns({{tr("Recording"), 260}, {tr("Words"), 80, true}, {tr("Pressed"), 200, false, true}},
                        tr("Recordings and what was pressed"));
    takes_->fit_rows(12);
    takes_sheet->body()->addWidget(takes_, 1);
    whole->addWidget(takes_sheet);
    auto* found = new Sheet(tr("What moved"));
    verdict_ = new QLabel;
    verdict_->setFont(text_font(13, true));
    verdict_->setWordWrap(true);
    found->body()->addWidget(verdict_);
    bits_ = new BitRow;
    found->body()->addWidget(bits_);
    answers_ = new QLabel;
    answers_->setWordWrap(true);
    answers_->setAlignment(Qt::AlignTop);
    answers_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    answers_->setMinimumWidth(10);
    found->body()->addWidget(answers_, 1);
    name_ = new QPushButton(tr("Name the bits after the presses"));
    name_->setToolTip(tr("In every recording read the same way; undo takes it back"));
    names_ = new Field;
    names_->setPlaceholderText(tr("names of the bits in order, - for none"));
    names_->setAccessibleName(tr("Names of the bits, in order of arrival"));
    names_->setToolTip(tr("Such as: fire left right - - id2 id1 id0. In every recording read the same way."));
    names_->commit = [this](const QString& text) -> std::optional<QString> {
        std::vector<std::string> bits;
        for (const auto& part : text.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts))
            bits.push_back(part == QStringLiteral("-") ? std::string() : part.toStdString());
        if (bits.size() > 4096) return tr("Expected at most 4096 names.");
        set_bit_names(tr("names of the bits"), [bits](const std::vector<std::string>&) { return bits; });
        return std::nullopt;
    };
    auto* foot = new QHBoxLayout;
    foot->addWidget(name_);
    foot->addWidget(names_, 1);
    found->body()->addLayout(foot);
    whole->addWidget(found, 1);
    connect(takes_, &FactTable::edited, this, [this](int row, int, const QString& typed) {
        const auto about = takes_->key(row).toStringList();
        const auto id = about.at(0).toStdString();
        const auto text = typed.trimmed();
        if (const int moment = about.at(1).toInt(); moment >= 0)
            return name_moment(id, static_cast<std::size_t>(moment), text);
        said_.insert(id);
        if (text.isEmpty())
            pressed_.erase(id);
        else
            pressed_[id] = text == tr("rest") ? std::string() : text.toStdString();
        refresh();
    });
    connect(name_, &QPushButton::clicked, this, &HuntView::name_bits);
}

void HuntView::refresh() {
    fill_takes();
    compute();
}

void HuntView::fill_takes() {
    const auto& captures = document_.analysis().listen->captures;
    std::vector<TableRow> rows;
    const auto add = [&rows](const QStringList& cells, const std::string& capture, int moment,
                             bool editable) {
        TableRow row{cells[0], cells[1], cells[2]};
        row[0].key = QStringList{to_q(capture), QString::number(moment)};
        row[1].sort = cells[1].toDouble();
        row[2].editable = editable;
        if (!editable)
            for (auto& cell : row) cell.colour = theme().ink2;
        rows.push_back(std::move(row));
    };
    pressed_ = guess_pressed(captures, std::move(pressed_), said_);
    for (const auto& shared : captures) {
        const auto& c = *shared;
        const auto& id = c.ref.id;
        const auto it = pressed_.find(id);
        const bool marked = !c.ref.moments.empty();
        const QStringList cells{to_q(c.ref.title),
                                c.decoding ? QString::number(c.decoding->frames.size()) : tr("not read"),
                                marked                 ? tr("its moments, below")
                                : it == pressed_.end() ? QString()
                                : it->second.empty()   ? tr("rest")
                                                       : to_q(it->second)};
        add(cells, id, -1, c.decoding && !marked);
        for (std::size_t m = 0; m < c.ref.moments.size(); ++m) {
            const auto& moment = c.ref.moments[m];
            const auto words = c.decoding ? words_within(*c.decoding, {moment.from, moment.to}) : 0;
            add({tr("   from %1 to %2").arg(to_q(print(moment.from, 5)), to_q(print(moment.to, 5))),
                 QString::number(words), moment.pressed.empty() ? tr("rest") : to_q(moment.pressed)},
                id, static_cast<int>(m), c.decoding != nullptr);
        }
    }
    takes_->set_rows(std::move(rows));
}

/// A moment's name is a fact of the dossier; "-" takes the mark away.
void HuntView::name_moment(const std::string& capture, std::size_t moment, const QString& text) {
    const auto* ref = document_.dossier().find_capture(capture);
    if (ref == nullptr || moment >= ref->moments.size()) return;
    auto changed = *ref;
    if (text == QStringLiteral("-"))
        changed.moments.erase(changed.moments.begin() + static_cast<std::ptrdiff_t>(moment));
    else
        changed.moments[moment].pressed = text == tr("rest") ? std::string() : text.toStdString();
    document_.apply(tr("what was pressed in %1").arg(to_q(ref->title)),
                    put(document_.dossier(), std::move(changed)));
}

void HuntView::compute() {
    verdict_->setText(tr("Comparing the words …"));
    answers_->clear();
    name_->setEnabled(false);
    hunting_.ask([listen = document_.analysis().listen,
                  pressed = pressed_](Progress&) { return hunt_captures(listen->captures, pressed); },
                 [this](const CaptureHunt& found) { show_hunt(found); });
}

void HuntView::show_hunt(const CaptureHunt& found) {
    result_ = found.result;
    const auto& names = found.names;
    const bool ready = found.ready;
    bits_->show_bits(result_, names);
    QStringList shown;
    for (const auto& n : names) shown << (n.empty() ? QStringLiteral("-") : to_q(n));
    names_->show_value(shown.join(QLatin1Char(' ')));
    names_->setEnabled(found.any);
    name_->setEnabled(ready && result_.problem.empty() &&
                      std::any_of(result_.answers.begin(), result_.answers.end(),
                                  [](const auto& a) { return !a.bits.empty(); }));
    if (!ready) {
        verdict_->setText(tr("Bring a recording at rest and at least one press, both read as words."));
        answers_->clear();
        return;
    }
    if (!result_.problem.empty()) {
        verdict_->setText(to_q(result_.problem));
        answers_->clear();
        return;
    }
    long named = 0;
    QStringList lines, plain;
    for (const auto& a : result_.answers) {
        if (a.bits.empty()) {
            lines << tr("%1: no bit moved. Was it pressed while recording, or is it on the other bank?")
                         .arg(to_q(a.take));
            continue;
        }
        QStringList bits;
        for (const auto b : a.bits)
            bits << tr("%1 (active %2)").arg(b).arg(result_.bits[b].active_low ? tr("low") : tr("high"));
        named += a.shared ? 0 : 1;
        if (!a.shared && a.bits.size() == 1) {
            plain << tr("%1: %2").arg(to_q(a.take), bits.front());
            continue;
        }
        lines << (a.shared ? tr("%1: only bits that others move too: %2")
                                 .arg(to_q(a.take), bits.join(QStringLiteral(", ")))
                           : tr("%1: bit %2").arg(to_q(a.take), bits.join(QStringLiteral(", "))));
    }
    if (!plain.isEmpty()) lines.prepend(tr("One bit each. %1").arg(plain.join(QStringLiteral(" · "))));
    const auto listed = [](const std::vector<std::size_t>& list) {
        QStringList out;
        for (const auto b : list) out << QString::number(b);
        return out.join(QLatin1Char(' '));
    };
    if (!result_.restless.empty())
        lines << tr("Move by themselves at rest: %1").arg(listed(result_.restless));
    if (!result_.never_moved.empty()) lines << tr("Never moved: %1").arg(listed(result_.never_moved));
    for (const auto& h : result_.hints)
        lines << tr("Bits %1 to %2: %3").arg(h.from).arg(h.from + h.count - 1).arg(to_q(h.says));
    if (result_.left_out > 0)
        lines << tr("%1 with errors or of another length left out")
                     .arg(to_q(plural(static_cast<long long>(result_.left_out), "word", "words")));
    verdict_->setText(
        tr("%1 of %2 have a bit of their own, in words of %3 bits.")
            .arg(named)
            .arg(to_q(plural(static_cast<long long>(result_.answers.size()), "press", "presses")))
            .arg(result_.width));
    answers_->setText(lines.join(QLatin1Char('\n')));
}

/// In every recording that is read like the one at rest.
void HuntView::set_bit_names(
    const QString& what,
    const std::function<std::vector<std::string>(const std::vector<std::string>&)>& change) {
    auto dossier = document_.dossier();
    const auto kind = hunted_family(document_.analysis().listen->captures, pressed_);
    for (const auto& ref : *document_.dossier().captures) {
        if (ref.decode.kind != kind || kind.empty()) continue;
        auto changed = ref;
        changed.decode.bits = change(ref.decode.bits);
        dossier = put(dossier, std::move(changed));
    }
    document_.apply(what, std::move(dossier));
}

void HuntView::name_bits() {
    set_bit_names(tr("bits named after the presses"), [this](std::vector<std::string> bits) {
        bits.resize(std::max(bits.size(), result_.width));
        for (std::size_t i = 0; i < result_.bits.size(); ++i)
            if (result_.bits[i].moved_by.size() == 1) bits[i] = result_.bits[i].moved_by.front();
        return bits;
    });
}

}  // namespace grayrelic::app
