// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/found_line.hpp"

#include <QHBoxLayout>
#include <QPainter>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/listen/read_links.hpp"

namespace grayrelic::app {

FoundLine::FoundLine(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 8, 6);
    row->setSpacing(8);
    text_ = new QLabel;
    text_->setTextFormat(Qt::PlainText);
    text_->setWordWrap(true);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    read_ = new QPushButton(tr("Read it so"));
    read_->setToolTip(tr("Takes over family, lines and settings; the words appear under the waves"));
    why_ = new QPushButton(tr("Why"));
    why_->setToolTip(tr("All that was tried, what each explains, and what could not be told apart"));
    row->addWidget(text_, 1);
    row->addWidget(read_);
    row->addWidget(why_);
    connect(read_, &QPushButton::clicked, this, [this] {
        if (!capture_) return;
        const auto together = links();
        const auto id = capture_->ref.id;
        Q_EMIT read();
        read_links(document_, id, together);
    });
    connect(why_, &QPushButton::clicked, this, &FoundLine::why_wanted);
    hide();
}

std::vector<Candidate> FoundLine::links() const {
    std::vector<Candidate> out;
    if (!capture_ || !capture_->identified) return out;
    const auto& list = *capture_->identified;
    if (list.empty() || list.front().score < least_fit) return out;
    const auto sets = links_of(list);
    if (sets.empty()) return {list.front()};
    for (const auto i : sets.front()) out.push_back(list[i]);
    return out;
}

void FoundLine::show_capture(const std::shared_ptr<const CaptureAnalysis>& capture) {
    capture_ = capture;
    const bool open = capture_ && capture_->capture && capture_->ref.decode.kind.empty();
    setVisible(open);
    if (!open) return;
    const auto together = links();
    text_->setText(sentence(together));
    read_->setVisible(!together.empty());
    read_->setText(together.size() == 2  ? tr("Read both links")
                   : together.size() > 2 ? tr("Read all %1 links").arg(together.size())
                                         : tr("Read it so"));
    why_->setVisible(capture_->identified != nullptr);
}

QString FoundLine::sentence(const std::vector<Candidate>& together) const {
    if (!capture_->identified) return tr("Looking at what these lines could be …");
    if (together.empty())
        return capture_->identified->empty()
                   ? tr("No family explains these lines. Choose one below if you know it.")
                   : tr("No family explains enough of these lines to believe it. Choose one below if you "
                        "know it.");
    if (together.size() > 1) {
        QStringList names;
        for (const auto& c : together) names << tr("%1 (%2)").arg(to_q(c.kind), roles_text(c.roles));
        return tr("%1 links: %2.").arg(together.size()).arg(names.join(tr(" and ")));
    }
    const auto& c = together.front();
    auto text = tr("It reads as %1, %2: %3.").arg(to_q(c.kind), roles_text(c.roles), to_q(c.why));
    for (const auto& u : c.not_told_apart)
        if (u.what == "kind") {
            QStringList values;
            for (const auto& v : u.values) values << to_q(v);
            text += tr(" Not told apart from %1.").arg(values.join(tr(" or ")));
        }
    if (const auto* like = same_talk(document_.dossier(), capture_->ref.id, c))
        text += tr(" The same roles as in “%1”: its lines take that one's names.").arg(to_q(like->title));
    return text;
}

void FoundLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setPen(theme().hairline);
    p.setBrush(theme().sheet);
    p.drawRoundedRect(rect().adjusted(0, 0, -1, -1), 3, 3);
}

}  // namespace grayrelic::app
