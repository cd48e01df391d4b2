// Looks on while a play is made, and notes every trouble.
#pragma once

#include <vector>

#include "core/search/stress.hpp"
#include "core/take/block.hpp"

namespace stasis {

class StressWatch final : public BlockSink {
public:
  explicit StressWatch(const std::vector<std::vector<NamedValues>>& named) : named_(named) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;
  std::vector<TroubleFound> take() { return std::move(found_); }
  /// Where every component is sent in the end, by channel.
  std::vector<std::vector<double>> last_wishes() const;

private:
  struct Last {
    double value = 0.0, wish = 0.0, goal = 0.0, velocity = 0.0;
    std::size_t motion = 0;
  };
  void look_at(std::size_t channel, std::size_t component, const Block& block);
  void look_for_overshoot(std::size_t channel, std::size_t component, const Block& block);
  void note(Trouble trouble, std::size_t about, double value, double time);

  const std::vector<std::vector<NamedValues>>& named_;
  Scene scene_;
  std::vector<std::vector<Last>> last_;
  std::vector<std::vector<double>> gaps_; ///< by channel and component: how far its goal was when it jumped last, unit
  std::vector<std::uint8_t> seen_;        ///< by trouble and what it is about
  std::vector<TroubleFound> found_;
  std::vector<bool> is_led_; ///< by channel: by something that moves by itself, so that it need never rest
};

} // namespace stasis
