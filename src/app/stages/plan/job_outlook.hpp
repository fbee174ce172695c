// SPDX-License-Identifier: GPL-3.0-or-later
// The outlook of the open dossier, worked out once for all that show it, when what it rests on has changed.
#pragma once

#include <QDate>

#include <functional>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/calendar_chart.hpp"
#include "core/job/outlook.hpp"

namespace grayrelic::app {

class JobOutlook {
  public:
    explicit JobOutlook(Document& document) : document_(document) {}
    [[nodiscard]] const Outlook& now();
    /// True when now() would be another one than was last given.
    [[nodiscard]] bool is_stale() const;
    [[nodiscard]] Day today() const;
    /// Hours a week of the bench, else what is taken.
    [[nodiscard]] double hours() const;
    [[nodiscard]] bool hours_taken() const { return !document_.person().bench.hours_per_week; }
    /// Replaced by tests and pictures.
    std::function<QDate()> ask_today = [] { return QDate::currentDate(); };

  private:
    [[nodiscard]] Versions rests_on() const;
    Document& document_;
    Versions made_from_;  ///< kept alive, so that an address can't come again
    Day made_on_{};
    std::shared_ptr<const DataLibrary> data_;
    Outlook outlook_;
};

/// The dates of the outlook's tasks, worked out beside the window.
class JobSchedule : public QObject {
    Q_OBJECT
  public:
    JobSchedule(Document& document, JobOutlook& outlook);
    /// Asks for the dates anew where tasks, hours or the day are others.
    void refresh();
    /// Null while there is none: no tasks, or they can't be done.
    [[nodiscard]] const Schedule* now() const { return now_.get(); }
    [[nodiscard]] std::vector<CalendarRow> rows() const;
    [[nodiscard]] CalendarDates dates() const;
    /// "6 hours a week: likely done 9 Jan, late 27 Jan. The boards hold it up."
    [[nodiscard]] QString sentence() const;

  Q_SIGNALS:
    void made();

  private:
    Document& document_;
    JobOutlook& outlook_;
    std::vector<PlanTask> tasks_;
    double hours_ = 0;
    Day today_{};
    std::shared_ptr<const Schedule> now_;
    std::string problem_;  ///< why there are no dates
    struct Made {
        std::shared_ptr<const Schedule> schedule;
        std::string problem;
    };
    Latest<Made> latest_;
};

/// "9 Jan", with the year where it is another one than today's.
[[nodiscard]] QString day_words(Day day, Day today);

}  // namespace grayrelic::app
