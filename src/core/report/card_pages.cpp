// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/card_pages.hpp"

#include <algorithm>

#include "core/base/text.hpp"
#include "core/library/cautions.hpp"

namespace grayrelic {
namespace {

constexpr double points_per_mm = 72.0 / 25.4;
constexpr double card_line = 18;  // points

std::vector<std::string> wrapped(const std::string& text, std::size_t width) {
    std::vector<std::string> out(1);
    for (const auto word : split(text, ' ')) {
        if (!out.back().empty() && out.back().size() + word.size() + 1 > width) out.emplace_back();
        out.back() += (out.back().empty() ? "" : " ") + std::string(word);
    }
    return out;
}

}  // namespace

CardPages::CardPages(const Analysis& a, Paper paper) : a_(a) {
    card_.width_mm = paper == Paper::a4 ? 210.0 : 215.9;
    card_.height_mm = paper == Paper::a4 ? 297.0 : 279.4;
    width_ = card_.width_mm * points_per_mm;
    height_ = card_.height_mm * points_per_mm;
}

void CardPages::begin(const std::string& title, const std::string& about) {
    title_ = title;
    about_ = about;
    new_page();
}

void CardPages::new_page() {
    end();
    page_.emplace(width_, height_, title_);
    page_->set_paper(card_.width_mm, card_.height_mm);
    page_->rect(0, 0, width_, height_, "#FFFFFF");
    page_->text(margin, margin + 12, shortened(title_, 60), paper::ink, Svg::Anchor::start, 18, true);
    page_->text(margin, margin + 28, shortened(about_, 100), paper::ink2, Svg::Anchor::start, 11);
    page_->line(margin, margin + 36, width_ - margin, margin + 36, paper::hairline);
    y_ = margin + 46;
}

void CardPages::end() {
    if (page_) card_.pages.push_back(page_->finish());
    page_.reset();
}

void CardPages::need(double points) {
    if (y_ + points > height_ - margin) new_page();
}

void CardPages::line(const std::string& text) {
    page_->text(margin, y_ + 10, text, paper::ink, Svg::Anchor::start, 11);
    y_ += card_line;
}

void CardPages::paragraph(const std::string& text) {
    for (const auto& l : wrapped(text, 100)) {
        need(13);
        page_->text(margin, y_ + 9, l, paper::ink, Svg::Anchor::start, 10);
        y_ += 13;
    }
}

void CardPages::title(const std::string& text) {
    need(card_line + 13);
    page_->text(margin, y_ + 10, text, paper::ink, Svg::Anchor::start, 11, true);
    y_ += card_line;
}

void CardPages::columns(std::vector<Column> columns) {
    columns_ = std::move(columns);
    heading();
}

void CardPages::heading() {
    for (const auto& c : columns_) page_->text(c.x, y_ + 10, c.heading, paper::ink2, Svg::Anchor::start, 10);
    y_ += card_line;
    page_->line(margin, y_ - 4, width_ - margin, y_ - 4, paper::hairline);
}

void CardPages::row(const std::vector<std::string>& cells) {
    if (y_ + card_line > height_ - margin) {
        new_page();
        heading();
    }
    page_->rect(margin + 2, y_, 11, 11, "#FFFFFF", paper::ink);
    for (std::size_t i = 1; i < cells.size(); ++i)
        page_->text(columns_[i].x, y_ + 10, shortened(cells[i], columns_[i].most), paper::ink,
                    Svg::Anchor::start, 11);
    y_ += card_line;
}

void CardPages::cautions(Stage stage, std::string_view step, const Port* port,
                         const std::vector<std::string>& only) {
    auto list = cautions_for(a_.data->cautions, a_.data->families, a_.dossier, stage, step, port);
    std::erase_if(list, [&](const Caution* c) {
        return !only.empty() && std::find(only.begin(), only.end(), c->id) == only.end();
    });
    if (list.empty()) return;
    y_ += 8;
    for (const auto* c : list) {
        const auto lines = wrapped(c->says + " " + c->defer, 100);
        need(16 + 13 * static_cast<double>(lines.size()));
        page_->text(margin, y_ + 10, c->title, paper::oxide, Svg::Anchor::start, 11, true);
        y_ += 15;
        for (const auto& l : lines) {
            page_->text(margin, y_ + 9, l, paper::ink, Svg::Anchor::start, 10);
            y_ += 13;
        }
        y_ += 5;
    }
}

}  // namespace grayrelic
