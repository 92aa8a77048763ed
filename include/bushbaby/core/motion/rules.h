// Rules: the numbers that a tick needs, per second and in whole ticks. `compile`
// (bushbaby/core/tuning/compile.h) makes them from a tuning.
#pragma once

#include <array>
#include <cstdint>
#include <limits>
#include <type_traits>

#include <bushbaby/core/motion/mechanisms.h>
#include <bushbaby/core/motion/ticks.h>
#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/zone.h>

namespace bushbaby {

/// The drive on the ground, or in the air, as a tick needs it.
struct DriveRules {
  DriveStyle style = DriveStyle::rate;
  RunRates rates;               ///< u/s²
  double overspeed_brake = -1;  ///< u/s², down to top speed; negative: as braking
  /// With style damped: the share of the difference of speeds that one tick takes away.
  double accelerate_share = 0, brake_share = 0, turn_share = 0;
};

/// The sprint, as a tick needs it.
struct SprintRules {
  bool exists = false;
  bool when_held = true;  ///< its button held means a sprint, and otherwise a run
  bool kept_in_air = false;
  double top_speed = 0;  ///< u/s
  DriveRules ground;
  DriveRules air;
};

/// A way to leave a wall, as a tick needs it.
struct WallExitRules {
  bool jump = false;           ///< the jump button must be pressed, or remembered
  std::int8_t horizontal = 0;  ///< held: 1 away from the wall, -1 towards it
  std::int8_t vertical = 0;    ///< held: 1 up, -1 down
  bool at_top = false;
  Ticks hold = 0;   ///< ticks for which the directions must have been held
  double away = 0;  ///< u/s
  double up = 0;    ///< u/s
  Ticks steer_lock = 0;
  Ticks steer_fade = 0;
  Ticks sustain = 0;
  bool restore = false;
  bool same_wall = true;
  bool first = false;

  /// Whether leaving by it is a jump; otherwise it only releases the wall.
  [[nodiscard]] constexpr bool jumps() const noexcept { return up > 0 || (jump && away != 0); }
  /// Whether it climbs: a jump straight up the wall, which goes on holding the body.
  [[nodiscard]] constexpr bool climbs() const noexcept { return jump && up > 0 && away == 0; }
};

/// A number of air jumps that never ends.
inline constexpr std::int32_t kUnlimited = std::numeric_limits<std::int32_t>::max();

/// Which way is down, as a tick needs it.
struct TurnRules {
  Turning::To to = Turning::To::nothing;
  bool leads = false;   ///< a zone says so; otherwise the body turns back as it was turned
  Vec up{0, 1};         ///< the way up, if it is the same everywhere
  Vec point{0, 0};      ///< u, towards which down is otherwise
  double cosine = 1;    ///< of the angle by which a tick turns the body
  double sine = 0;      ///< the same
  bool at_once = true;  ///< the body turns at once
  bool speed_turns = true;
  bool by_screen = false;
};

/// What a body swims in, as a tick needs it.
struct FluidRules {
  bool exists = false;
  bool restores = false;
  double buoyancy = 0;      ///< u/s²
  double drag = 0;          ///< 1/s
  double drag_share = 0;    ///< of the difference to the current that a tick takes away
  Vec current{0, 0};        ///< u/s
  double dive = 0;          ///< u/s; 0: none
  double stroke_speed = 0;  ///< u/s; 0: none
  Ticks stroke_every = 0;
  double exit_jump_speed = 0;  ///< u/s; 0: none
  double exit_jump_pull = 1;   ///< share of gravity there that acts on a leap, until its apex
};

/// Per-tick constants and windows in whole ticks. Trivially copyable. Made by `compile`; a
/// default-constructed one moves nothing.
struct Rules {
  double tick_rate = 60;  ///< Hz
  double dt = 1.0 / 60;   ///< s
  Integrator integrator = Integrator::exact;
  bool gravity_on_launch_tick = true;

  Shape body{Box{{-0.5, 0}, {0.5, 1}}};
  double flush_gap = 0.001;    ///< u: the widest gap that counts as flush
  double ground_slope = 0.64;  ///< least normal · up of a surface that gives ground

  double corner_nudge = 0;  ///< u
  double ledge_lift = 0;    ///< u

  double top_speed = 0;  ///< u/s
  DriveRules ground;
  DriveRules air;
  SprintRules sprint;
  double uphill = 1;        ///< share of top speed on the steepest ground
  double downhill = 1;      ///< the same
  double stick_depth = -1;  ///< u; negative: what the steepest ground needs
  bool ramp_launch = false;
  FacingRule facing = FacingRule::held;
  AutoRun auto_run = AutoRun::none;

  double rise_gravity = 0;                                          ///< u/s²
  double fall_gravity = 0;                                          ///< u/s²
  double terminal_speed = std::numeric_limits<double>::infinity();  ///< u/s
  double launch_speed = 0;                                          ///< u/s

  CutStyle cut_style = CutStyle::none;
  double cut_keep = 0;
  double cut_weight = 1;
  Ticks cut_from_tick = 1;  ///< a cut may happen this many ticks after launch, or later

  Ticks coyote_ticks = 0;
  double coyote_gravity = 1;
  Ticks buffer_ticks = 0;
  Hang hang{};

  bool may_jump = true;
  Ticks sustain_ticks = 0;
  Ticks charge_ticks = 0;    ///< to fill the gauge; 0: no charging
  double charge_launch = 0;  ///< u/s, with a full gauge
  Ticks charge_tap = 0;      ///< ticks of holding before it begins to fill
  ChargeCurve charge_even_in = ChargeCurve::height;
  double charge_bend = 0;
  bool charge_may_run = true;
  std::int32_t air_jumps = 0;
  double air_launch = 0;  ///< u/s
  Ticks air_sustain = 0;
  Ticks air_interval = 0;
  bool air_restore_on_wall = false;
  bool air_restore_on_bounce = false;
  bool walk_off_costs = false;
  NearGround near_ground = NearGround::air_jump;

  double fall_overspeed_brake = 0;  ///< u/s²
  double fast_speed = 0;            ///< u/s; 0: none is set
  double fast_factor = 1;
  bool fast_only_falling = true;
  double glide_speed = std::numeric_limits<double>::infinity();  ///< u/s; infinite: no glide
  double glide_brake = 0;                                        ///< u/s²

  WallGrab wall_grab = WallGrab::push;
  double slide_speed = std::numeric_limits<double>::infinity();  ///< u/s; infinite: no wall slide
  double slide_brake = 0;                                        ///< u/s²
  Ticks cling_ticks = 0;
  Ticks wall_coyote_ticks = 0;
  Ticks wall_buffer_ticks = 0;
  Ticks climb_ticks = 0;  ///< of holding on, or kForEver; 0: no climbing
  double climb_up = 0;    ///< u/s
  double climb_down = 0;  ///< u/s
  double climb_rate = 0;  ///< u/s²
  double climb_over = 0;  ///< u/s
  bool climb_stays = true;
  std::array<WallExitRules, kMostWallExits> exits{};
  std::int32_t exit_count = 0;
  bool exit_first = false;  ///< whether any row comes before a jump from the ground

  std::int32_t dash_charges = 0;
  Ticks dash_ticks = 1;
  double dash_speed = 0;  ///< u/s
  DashDirection dash_direction = DashDirection::sideways;
  double dash_keep = 1;
  Ticks dash_cooldown = 0;
  Ticks dash_buffer = 0;
  bool dash_jump_out = true;
  bool dash_restore_on_wall = false;
  bool dash_restore_on_bounce = false;

  DropBy drop_by = DropBy::nothing;
  Ticks drop_window = 1;

  double push_share = 1;
  Ticks push_lock = 0;

  TurnRules turn{};
  FluidRules fluid{};
};

static_assert(std::is_trivially_copyable_v<Rules>);

}  // namespace bushbaby
