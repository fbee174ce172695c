// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/report_pdf.hpp"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>
#include <QRegularExpression>
#include <QTextBlock>
#include <QTextCursor>
#include <QTextDocument>

#include <map>
#include <vector>

#include "core/base/palette.hpp"
#include "render/text_figures.hpp"

namespace grayrelic::render {
namespace {

// In points, of which the document's pages are made; the writer has its own dots.
constexpr double page_width = 595, page_height = 842, margin = 48, foot = 28;
constexpr double text_width = page_width - 2 * margin, text_height = page_height - 2 * margin - foot;

constexpr const char* style = R"(
body{color:@ink}h1{font-size:20pt}h2{font-size:14pt}h3{font-size:10pt}p{font-size:9pt}
td,th{font-size:8pt;padding:2px 4px 2px 0}th{color:@ink2;font-weight:normal}
.sub{color:@ink2}i{color:@ink2}pre{font-family:"Relic Figures";font-size:7pt}
p.caution{color:@oxide}td.n,th.n{font-family:"Relic Figures"}a{color:@ink;text-decoration:none}
)";

/// On which page each anchor stands, from 1.
std::map<QString, int> pages_of(const QTextDocument& document) {
    std::map<QString, int> out;
    for (auto block = document.begin(); block.isValid(); block = block.next())
        for (auto it = block.begin(); !it.atEnd(); ++it)
            for (const auto& name : it.fragment().charFormat().anchorNames())
                if (!out.contains(name)) {
                    const auto top = document.documentLayout()->blockBoundingRect(block).top();
                    out[name] = static_cast<int>(top / text_height) + 1;
                }
    return out;
}

int page_of(const QTextDocument& document, const QTextBlock& block) {
    return static_cast<int>(document.documentLayout()->blockBoundingRect(block).top() / text_height);
}

/// A heading goes with what it stands over.
void keep_headings(QTextDocument& document) {
    constexpr int most_rounds = 4;
    for (int round = 0; round < most_rounds; ++round) {
        std::vector<QTextBlock> alone;
        for (auto block = document.begin(); block.isValid(); block = block.next()) {
            if (block.blockFormat().headingLevel() < 2) continue;
            auto next = block.next();
            while (next.isValid() && next.blockFormat().headingLevel() > 0) next = next.next();
            const bool parted = next.isValid() && page_of(document, next) != page_of(document, block);
            const bool under_another =
                block.previous().isValid() && block.previous().blockFormat().headingLevel() > 0;
            if (parted && !under_another) alone.push_back(block);
        }
        if (alone.empty()) return;
        for (const auto& block : alone) {
            QTextCursor cursor(block);
            auto format = block.blockFormat();
            format.setPageBreakPolicy(QTextFormat::PageBreak_AlwaysBefore);
            cursor.setBlockFormat(format);
        }
    }
}

/// The contents with their pages: a table of two columns.
QString with_pages(const QString& html, const std::map<QString, int>& pages) {
    static const QRegularExpression nav(QStringLiteral("<nav>(.*?)</nav>"),
                                        QRegularExpression::DotMatchesEverythingOption);
    static const QRegularExpression line(QStringLiteral("<p><a href=\"#([^\"]*)\">(.*?)</a></p>"));
    const auto found = nav.match(html);
    if (!found.hasMatch()) return html;
    QString table = QStringLiteral("<table width=\"100%\">");
    for (auto it = line.globalMatch(found.captured(1)); it.hasNext();) {
        const auto l = it.next();
        const auto page = pages.find(l.captured(1));
        table += QStringLiteral("<tr><td><a href=\"#%1\">%2</a></td><td align=\"right\">%3</td></tr>")
                     .arg(l.captured(1), l.captured(2))
                     .arg(page == pages.end() ? 0 : page->second);
    }
    auto out = html;
    return out.replace(found.capturedStart(), found.capturedLength(), table + QStringLiteral("</table>"));
}

}  // namespace

Result<std::string> report_pdf(const std::string& html, const std::string& title, Progress& progress) {
    auto text = QString::fromStdString(html);
    static const QRegularExpression own_style(QStringLiteral("<style>.*?</style>"),
                                              QRegularExpression::DotMatchesEverythingOption);
    text.remove(own_style);
    TextFigures figures(QSizeF(text_width, text_height));
    static const QRegularExpression svg(QStringLiteral("<svg.*?</svg>"),
                                        QRegularExpression::DotMatchesEverythingOption);
    QString body;
    qsizetype done = 0;
    for (auto it = svg.globalMatch(text); it.hasNext();) {
        if (progress.cancelled()) return fail_cancelled();
        const auto m = it.next();
        auto picture = m.captured(0).toUtf8();
        picture.replace("B612, sans-serif", "Relic Text");
        picture.replace("\"B612 Mono\",monospace", "Relic Figures");
        // Signs stand in the text, figures in a line of their own.
        const bool sign = picture.startsWith("<svg class=\"mark\"");
        body +=
            text.mid(done, m.capturedStart() - done) + (sign ? QStringLiteral("<img src=\"svg:%1\">&nbsp;")
                                                             : QStringLiteral("<p><img src=\"svg:%1\"></p>"))
                                                           .arg(figures.add(picture));
        done = m.capturedEnd();
    }
    body += text.mid(done);
    if (!figures.valid()) return fail_system({}, "a figure that can't be drawn", "an SVG picture");

    QTextDocument document;
    document.setUndoRedoEnabled(false);
    document.documentLayout()->registerHandler(QTextFormat::ImageObject, &figures);
    document.setDefaultFont(QFont(QStringLiteral("Relic Text"), 9));
    document.setDefaultStyleSheet(QString::fromStdString(in_colours(style)));
    document.setDocumentMargin(0);
    document.setPageSize(QSizeF(text_width, text_height));
    // Twice: the first time tells the pages, and the numbers take no more lines.
    std::map<QString, int> pages;
    for (int round = 0; round < 2; ++round) {
        if (progress.cancelled()) return fail_cancelled();
        document.setHtml(with_pages(body, pages));
        keep_headings(document);
        pages = pages_of(document);
        progress.report(0.3 + 0.3 * round);
    }
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setTitle(QString::fromStdString(title));
    writer.setCreator(QStringLiteral("Gray Relic"));
    writer.setPageLayout(QPageLayout(QPageSize(QPageSize::A4), QPageLayout::Portrait, QMarginsF()));
    writer.setResolution(300);
    QPainter painter(&writer);
    if (!painter.isActive()) return fail_system({}, "no way to paint a PDF document", "one");
    const double scale = writer.width() / page_width;
    const int all = document.pageCount();
    for (int page = 0; page < all; ++page) {
        if (progress.cancelled()) return fail_cancelled();
        if (page > 0) writer.newPage();
        painter.save();
        painter.scale(scale, scale);
        painter.translate(margin, margin);
        painter.save();
        painter.translate(0, -page * text_height);
        document.drawContents(&painter, QRectF(0, page * text_height, text_width, text_height));
        painter.restore();
        QFont small(QStringLiteral("Relic Text"));
        small.setPixelSize(8);  // the painter's scale makes points of them
        painter.setFont(small);
        painter.setPen(
            QColor(QString::fromUtf8(paper::ink2.data(), static_cast<qsizetype>(paper::ink2.size()))));
        const QRectF line(0, text_height + foot / 2, text_width, foot / 2);
        painter.drawText(line, Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(title));
        painter.drawText(line, Qt::AlignRight | Qt::AlignVCenter,
                         QStringLiteral("page %1 of %2").arg(page + 1).arg(all));
        painter.restore();
        progress.report(0.6 + 0.4 * (page + 1) / all);
    }
    painter.end();
    return bytes.toStdString();
}

}  // namespace grayrelic::render
