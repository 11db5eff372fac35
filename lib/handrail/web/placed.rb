# frozen_string_literal: true

module Handrail
  module Web
    # Asks the cluster on which the clinic of whoever asks lives (see Store::Clusters). Who is signed in has it in their
    # session; who signs in is looked for by their e-mail, who follows a link by the link. Nobody else's clinic can be
    # reached so: a number of another cluster is not there.
    #
    # Where there is one database it does nothing.
    class Placed
      LINK = %r{\A/(?:join|set-up|calendar)/([A-Za-z0-9_-]{20,100})(?:\.ics)?\z}
      private_constant :LINK

      def initialize(app) = @app = app

      def call(env)
        return @app.call(env) unless Store::Clusters.many?

        Store::Clusters.within(cluster(env)) { @app.call(env) }
      rescue Sequel::DatabaseError => e
        # it has just gone: where to, is asked anew
        Store::Directory.forget if Store::Clusters.held?(e)
        raise
      end

      private

      def cluster(env)
        clinic = env["rack.session"]["clinic_id"]
        return Store::Directory.cluster_of(clinic) if clinic

        of_link(env["PATH_INFO"]) || of_email(env) || Store::Clusters.first
      end

      def of_link(path)
        token = path[LINK, 1] or return
        found(Store::People.digest(token)) do |digest|
          Store.db[:account_links].where(token_digest: digest).get(:clinic_id) ||
            Store.db[:calendar_keys].where(digest: digest).get(:clinic_id) ||
            (Store.db[:set_up_links].where(token_digest: digest).any? && :here)
        end
      end

      def of_email(env)
        return unless env["REQUEST_METHOD"] == "POST" && env["PATH_INFO"] == "/login"

        email = Rack::Request.new(env).params["login"]
        return unless email.is_a?(String) && email.valid_encoding?

        found(Store::People.email(email)) do |known|
          Store::Account.where(email: known).get(:clinic_id)
        end
      rescue Rack::QueryParser::ParameterTypeError,
             Rack::QueryParser::InvalidParameterError,
             EOFError
        # what can not be read is answered further in
        nil
      end

      # the cluster in which the block finds a clinic that lives there
      def found(key)
        Store::Clusters
          .find do
            clinic = yield key
            clinic if clinic == :here || (clinic && Store::Directory.here?(clinic))
          end
          &.first
      end
    end
  end
end
