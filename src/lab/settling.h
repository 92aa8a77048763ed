// A fit of flights under way, and what takes it downhill.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "flight_fit.h"

namespace bushbaby::detail {

struct FitState {
  FlightConstants constants;
  std::vector<Part> parts;  // those that are turned
  std::vector<Track> tracks;
  Solved solved;
  double score = 0;                                        // the smaller the better: see FlightFit
  std::vector<std::pair<double, FlightConstants>> seen{};  // scores of others with the same parts
};

inline bool by_score(const FitState& a, const FitState& b) { return a.score < b.score; }
// What has a score that is so little more goes nearly as well: as what lies within two standard
// errors, and a bit more, since it may only have been looked at in passing.
inline constexpr double kAsLikely = 10;

bool has(const std::vector<Part>& parts, Part part);
void strike(std::vector<Part>& parts, Part part);

// The hold that leaves least of a track, and by how much.
struct Release {
  Track track;
  double squares = 0;  // u²
};

class Settler {
 public:
  Settler(const FlightClock& clock, double noise, const Scale& scale)
      : clock_(clock), noise_(noise), scale_(scale) {}

  static constexpr int kMostRounds = 30;
  static constexpr int kFewRounds = 6;
  // What is added pays for itself by more than its number costs.
  static constexpr double kPays = 4;

  [[nodiscard]] const FlightClock& clock() const noexcept { return clock_; }
  [[nodiscard]] double noise() const noexcept { return noise_; }

  // Goes downhill for N rounds.
  void solve(FitState& state, int rounds) const;
  // Solves, and looks beside, until nothing changes.
  void settle(FitState& state, int rounds = kMostRounds) const;
  // Takes what happens on ticks to the neighbouring ones where that is better; whether any is.
  bool look_beside(FitState& state) const;
  // The state with one thing less, each.
  [[nodiscard]] static std::vector<FitState> shrunk(const FitState& state);
  // Takes out what does not pay.
  void shrink(FitState& state) const;
  // Takes out the flights that go otherwise than most, by `least` u or more; whether there were
  // any.
  bool leave_out(FitState& state, double least, std::vector<std::string>& remarks) const;
  // The best of all holds that may be; of those about the recorded one, if there is one.
  [[nodiscard]] Release find_hold(const Track& track, const FlightConstants& constants,
                                  Curves& curves) const;
  static void hand_out(const FitState& state, FlightFit& fit);

 private:
  [[nodiscard]] double score_of(const FitState& state) const;

  FlightClock clock_;
  double noise_;
  Scale scale_;
};

}  // namespace bushbaby::detail
