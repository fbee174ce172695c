// SPDX-License-Identifier: GPL-3.0-or-later
// One question, finding, net or budget as a page, to post or to print.
#include <QFileDialog>
#include <QInputDialog>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/shell/file_flow.hpp"
#include "core/report/question_sheet.hpp"
#include "render/report_pdf.hpp"

namespace grayrelic::app {

void FileFlow::write_sheet() {
    if (!wait_for_analysis(window_, tr("Computing what the sheet says"), document_)) return;
    const auto subjects = sheet_subjects(document_.analysis(), outlook(document_.analysis(), std::nullopt));
    if (subjects.empty()) return tell(tr("Nothing is open: there is nothing to ask."));
    QStringList titles;
    for (const auto& s : subjects) titles << to_q(s.title);
    const int chosen = ask_sheet_about(titles);
    if (chosen < 0 || chosen >= titles.size()) return;
    const auto said = write_sheet_about(to_q(subjects[static_cast<std::size_t>(chosen)].id));
    if (!said.isEmpty()) tell(said);
}

QString FileFlow::write_sheet_about(const QString& about) {
    const auto path = ask_sheet();
    if (path.isEmpty()) return {};
    const bool paper = path.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive);
    const auto name = document_.dossier().about->name;
    auto text = question_sheet(document_.analysis(), outlook(document_.analysis(), std::nullopt),
                               about.toStdString());
    if (!text) return to_q(text.error().message());
    Status written = fail_cancelled();
    const auto ran = run_with_progress(window_, tr("Writing the sheet"), [&](Progress& progress) {
        if (paper) text = render::report_pdf(*text, name, progress);
        written = text ? write_atomically(disk(), path.toStdString(), *text) : Status(fail(text.error()));
    });
    if (!ran) return to_q(ran.error().message());
    return written ? tr("Written to %1.").arg(path) : to_q(written.error().message());
}

}  // namespace grayrelic::app
