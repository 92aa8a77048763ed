// The chart of a judgement: where an arc leaves its reference, and which targets are missed.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/targets.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

struct VerdictChart {
  std::string character;
  std::string loop;
  Units units{};  ///< in which numbers are reported
  const Judgement* judgement = nullptr;

  /// The arc against its reference curve; the first target that follows one, the worst if several.
  struct Followed {
    const Verdict* verdict = nullptr;
    RecordedJump jump;
  };
  std::optional<Followed> followed;
};

/// Records the arc that is shown. The judgement must outlive the chart.
[[nodiscard]] VerdictChart record_verdict_chart(const Judgement& judgement, Subject& subject,
                                                std::string loop, const Units& units);

/// Left, the measured arc over the target's band, the part outside it in red; right, a row
/// for every target with its band and where the measured value lies.
[[nodiscard]] Picture draw(const VerdictChart& chart);

}  // namespace bushbaby
