// SPDX-License-Identifier: GPL-3.0-or-later
// What the shell asks of a stage's page. All that must cover every page, such as Help, the pictures, dropped
// files and the tests for cut text, goes through this: what a page offers is said by the page.
//
// A page rests while it is not seen. It says what its contents stand on (a set of Rests); when an edit or a
// result changes that, and the page is seen, it is refreshed once; otherwise when it is next seen.
#pragma once

#include <QFileInfo>
#include <QPushButton>
#include <QWidget>

#include "app/shell/action_registry.hpp"
#include "app/shell/document.hpp"
#include "core/analysis/finding.hpp"
#include "core/base/stage.hpp"

namespace grayrelic::app {

/// A kind of file that a page takes, for drops and dialogs.
struct FileKind {
    QString title;        ///< "Captures"
    QStringList endings;  ///< "vcd", without the dot, lower case
};

/// How sure a page is that a file is for it. The surest page gets it; of equally sure ones that which is
/// seen, then the first.
enum class Claim { none, anything, by_ending, by_content };

/// How a view stands in the documentation's pictures: under twenty in all, two a stage.
enum class Picture { none, day, night };

struct StageView {
    QString id;     ///< "wrong-ways": in the names of pictures, and for show_view()
    QString title;  ///< on its tab
    Picture picture = Picture::none;
    QString demo{};  ///< the shipped dossier that shows it best; empty: the first
};

class StagePage : public QWidget {
    Q_OBJECT
  public:
    /// `rests`: what the page's own contents stand on, beside that of its views.
    StagePage(Stage stage, Document& document, unsigned rests, QWidget* parent = nullptr);

    [[nodiscard]] Stage stage() const { return stage_; }
    [[nodiscard]] virtual QString sentence() const = 0;   ///< what is on the sheet, for the header
    [[nodiscard]] virtual QString detail() const = 0;     ///< its figures
    [[nodiscard]] virtual QString rail_line() const = 0;  ///< the stage's state in a few words
    [[nodiscard]] virtual bool has_content() const = 0;   ///< false: not started
    [[nodiscard]] virtual QList<QWidget*> header_widgets() { return {}; }
    virtual void show_place(const FindingPlace& place) = 0;
    /// Whether the list of findings stands beside the view in front.
    [[nodiscard]] virtual bool wants_findings() const { return true; }

    [[nodiscard]] virtual QList<StageView> views() const = 0;
    [[nodiscard]] virtual QString view() const = 0;  ///< the id of the one in front
    virtual void show_view(const QString& id) = 0;
    /// Puts the focus where work in this view begins.
    virtual void begin() { setFocus(); }
    /// Before its picture is taken: brings to the view what the demo does not hold.
    virtual void prepare_picture() {}

    [[nodiscard]] virtual QList<FileKind> file_kinds() const { return {}; }
    [[nodiscard]] virtual Claim claim(const QFileInfo& file) const;
    virtual void take(const QString& path);

    /// Every key of the page and of what is in it.
    void describe_keys(ActionRegistry& actions) const;
    /// How often the page or a view of it was refreshed; for tests and benches.
    [[nodiscard]] long refreshes() const { return refreshes_; }

  protected:
    /// Shows again what is seen and stands on something else than when it was last shown.
    void look();
    /// Shows again all that is seen.
    void look_anew();
    /// The page's own contents. To be cheap: what takes time comes from the analysis or a worker.
    virtual void refresh_page() = 0;
    /// The view in front.
    virtual void refresh_view() = 0;
    [[nodiscard]] virtual unsigned view_rests() const = 0;  ///< what the view in front stands on
    virtual void note_mouse(ActionRegistry&) const {}       ///< what is no key, for Help
    void showEvent(QShowEvent* event) override;
    void changeEvent(QEvent* event) override;
    void view_shown();  ///< another view is in front: it is refreshed if it is seen

    /// For empty screens: they say what to bring first and offer the shipped example.
    [[nodiscard]] QPushButton* make_example_button();
    [[nodiscard]] Document& document() const { return document_; }

  Q_SIGNALS:
    void header_changed();
    void example_wanted();
    /// Something that a page shows, such as a moment in a capture.
    void place_wanted(Stage stage, const FindingPlace& place);

  private:
    [[nodiscard]] Versions versions(unsigned rests) const;
    Document& document_;
    Stage stage_;
    unsigned rests_;
    Versions page_shown_, view_shown_;
    long refreshes_ = 0;
};

/// Pictures that can be read, and tables.
[[nodiscard]] FileKind picture_files();
[[nodiscard]] FileKind table_files();
/// "Pictures (*.png *.jpg)"
[[nodiscard]] QString dialog_filter(const FileKind& kind);

}  // namespace grayrelic::app
