#include "core/measure/channel_piece.hpp"

namespace stasis {

void ChannelPieces::enter(const Block& block) {
  columns_ = &block.channels[channel_];
  first_ = block.first;
  for (std::size_t i = 0; i < feel_.channels[channel_].components; ++i) {
    const ComponentBlock& column = columns_->component[i];
    FramePiece& piece = piece_.component[i];
    piece.motion = column.slowed != nullptr ? column.slowed.get() : &feel_.motions[column.motion].motion;
    piece.state = {};
    piece.state.run = column.run;
    piece.run_elapsed = 0.0;
    piece.goal = {column.acting_state, column.acting_state};
    piece.end_stages.reset();
    piece.arrival = column.arrival;
    piece.drawn = column.drawn;
    piece.turn.reset();
  }
}

const ChannelPiece& ChannelPieces::at(std::size_t row) {
  const std::int64_t frame = first_ + static_cast<std::int64_t>(row);
  piece_.arrived = false;
  for (std::size_t i = 0; i < feel_.channels[channel_].components; ++i) {
    const ComponentBlock& column = columns_->component[i];
    FramePiece& piece = piece_.component[i];
    piece.state.value = column.state[row];
    piece.state.velocity = column.rate[row];
    piece.end_value = column.state[row + 1];
    piece.end_velocity = column.rate[row + 1];
    piece.dt = clock_.dt(frame);
    if (!column.stages.empty()) {
      piece.state.input = column.stages[row].input;
      piece.state.links = column.stages[row].links;
      piece.end_stages = column.stages[row + 1];
    }
    if (column.run != nullptr) {
      piece.run_elapsed = column.run->elapsed(clock_, frame);
      set_turn(piece, column);
    }
    piece_.arrived = piece_.arrived || (row == 0 && column.arrived);
  }
  return piece_;
}

void ChannelPieces::set_turn(FramePiece& piece, const ComponentBlock& column) const {
  piece.turn.reset();
  const Ease* ease = ease_of(*piece.motion);
  if (ease == nullptr || !ease->there_and_back) return;
  const double at = next_turn(*ease, column.run->way, piece.run_elapsed + instant_slack) - piece.run_elapsed;
  if (at <= piece.dt) piece.turn = at;
}

} // namespace stasis
